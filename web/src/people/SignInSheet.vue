<script setup lang="ts">
import { SECRET_LENGTH } from '@vectum/core'
import { NButton, NInput } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useMe } from '../stores/me.ts'
import { useSettings } from '../stores/settings.ts'
import SecretFields from './SecretFields.vue'
import { usePeople } from './use-people.ts'

/** Over everything while nobody is signed in here: what was typed underneath stays as it is. */
const store = useMe()
const settings = useSettings()
const route = useRoute()
const router = useRouter()
const people = usePeople()
const { busy, refused } = people
const name = ref(settings.person)
const secret = ref('')
const code = ref('')
const fresh = ref('')
/** a code in the address came by a link or a picture: it is tried as it stands, and leaves the address */
watch(
  () => [route.name, route.hash],
  async () => {
    if (route.name !== 'pair') return
    code.value = route.hash.slice(1)
    if (code.value && (await people.byCode(code.value))) await router.replace('/')
    else if (store.access === 'open') await router.replace('/people')
  },
  { immediate: true },
)
const wanted = computed(() => (store.access === 'signed-out' ? 'sign-in' : store.me?.wantsSecret ? 'secret' : null))

async function enter(): Promise<void> {
  if (await people.signIn(name.value, secret.value)) secret.value = ''
}
async function enterByCode(): Promise<void> {
  if (await people.byCode(code.value)) code.value = ''
  if (route.name === 'pair') await router.replace('/')
}
</script>

<template>
  <div v-if="wanted" class="over" role="dialog" aria-modal="true" aria-labelledby="sign-in-title">
    <div class="sheet">
      <p class="head brand">VECTUM</p>
      <template v-if="wanted === 'sign-in'">
        <h1 id="sign-in-title">Who is working?</h1>
        <p class="soft">What you record stands under your name. What was typed here before stays, and is sent under who typed it.</p>
        <p v-if="refused" class="stop" role="alert">{{ refused }}</p>
        <form class="grid gap-2" @submit.prevent="enter">
          <label for="sign-name">Name</label>
          <n-input
            v-model:value="name"
            placeholder=""
            size="large"
            :maxlength="80"
            :input-props="{ id: 'sign-name', autocomplete: 'username' }"
          />
          <label for="sign-secret">Secret</label>
          <n-input
            v-model:value="secret"
            placeholder=""
            size="large"
            type="password"
            show-password-on="click"
            :maxlength="200"
            :input-props="{ id: 'sign-secret', autocomplete: 'current-password' }"
          />
          <n-button type="primary" size="large" attr-type="submit" :loading="busy" :disabled="!name.trim() || !secret">Sign in</n-button>
        </form>
        <form class="second grid gap-2 line-t-hair mt-4 pt-4" @submit.prevent="enterByCode">
          <label for="sign-code">I have a code</label>
          <div class="row flex-nowrap m-0">
            <n-input
              v-model:value="code"
              size="large"
              placeholder="ten letters and digits"
              :maxlength="20"
              :input-props="{ id: 'sign-code', autocomplete: 'one-time-code', autocapitalize: 'characters' }"
            />
            <n-button size="large" attr-type="submit" :loading="busy" :disabled="!code.trim()">Use it</n-button>
          </div>
          <small class="soft">From somebody who is signed in, under People; or, when nobody can sign in, from the machine itself.</small>
        </form>
      </template>
      <template v-else>
        <h1 id="sign-in-title">{{ store.signer?.name }}, choose your secret</h1>
        <p class="soft">The code was for once. From now on you sign in by your name and this.</p>
        <p v-if="refused" class="stop" role="alert">{{ refused }}</p>
        <form class="grid gap-2" @submit.prevent="people.setSecret(fresh)">
          <secret-fields id="fresh-secret" v-model="fresh" />
          <n-button type="primary" size="large" attr-type="submit" :loading="busy" :disabled="fresh.length < SECRET_LENGTH.min"
            >Keep it</n-button
          >
        </form>
      </template>
    </div>
  </div>
</template>

<style scoped>
.over {
  position: fixed;
  inset: 0;
  z-index: 6000;
  overflow: auto;
  background: var(--paper);
  display: grid;
  place-items: center;
  padding: var(--s4);
}
.sheet {
  width: min(520px, 100%);
  background: var(--sheet);
  border: 2px solid var(--ink);
  padding: var(--s5);
}
.brand {
  letter-spacing: 0.14em;
  font-size: var(--t4);
  margin: 0 0 var(--s3);
}
</style>
