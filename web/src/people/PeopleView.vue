<script setup lang="ts">
import { type Member, type OneTimeCode, type Role, roles, roleWords, SECRET_LENGTH } from '@vectum/core'
import { NButton, NInput, NPopconfirm, NRadio, NRadioGroup } from 'naive-ui'
import { onMounted, ref, watch } from 'vue'
import HousePage from '../shell/HousePage.vue'
import { useMe } from '../stores/me.ts'
import { useSettings } from '../stores/settings.ts'
import CodeCard from './OneTimeCode.vue'
import SecretFields from './SecretFields.vue'
import { usePeople } from './use-people.ts'

/** Who works here: the first owner, inviting, roles, leaving, and one-time codes for tablets. */
const store = useMe()
const settings = useSettings()
const people = usePeople()
const { busy, refused } = people
const members = ref<Member[]>([])
const name = ref(settings.person)
const secret = ref('')
const current = ref('')
const changing = ref(false)
const invited = ref('')
const role = ref<Role>('fitter')
const made = ref<{ code: OneTimeCode; whose: string } | null>(null)

const load = async () => {
  if (store.access === 'signed-in') members.value = (await people.list()) ?? members.value
}
onMounted(load)
watch(() => store.access, load)

async function makeFirst(): Promise<void> {
  if (await people.makeFirst(name.value.trim(), secret.value)) secret.value = ''
}
async function pair(person?: Member): Promise<void> {
  const code = await people.code(person?.id)
  if (code) made.value = { code, whose: person?.name ?? 'another screen of yours' }
}
async function invite(): Promise<void> {
  const answer = await people.invite(invited.value.trim(), role.value)
  if (!answer) return
  made.value = { code: answer.invitation, whose: answer.person.name }
  invited.value = ''
  await load()
}
async function change(person: Member, how: { role?: Role; leaves?: true }): Promise<void> {
  await people.change(person.id, how)
  await load()
}
async function newSecret(): Promise<void> {
  if (!(await people.setSecret(secret.value, current.value))) return
  secret.value = current.value = ''
  changing.value = false
}
const day = (iso: string) => new Date(iso).toLocaleDateString()
const standing = (m: Member) => (m.leftAt ? `left ${day(m.leftAt)}` : m.ready ? `since ${day(m.since)}` : 'invited, not in yet')
</script>

<template>
  <house-page title="People" says="who signs in here, and what each may do">
    <p v-if="refused" class="stop" role="alert">{{ refused }}</p>

    <section v-if="store.access === 'open'" class="measure">
      <h1>Nobody signs in yet</h1>
      <p>
        Whoever sits at this machine is everybody, and no other device may come in. With a first owner, each entry stands under who signed
        in, and tablets can be paired. That cannot be undone: afterwards everybody signs in.
      </p>
      <form v-if="store.me?.firstOwner" class="narrow" @submit.prevent="makeFirst">
        <label for="first-name">Name, as it will stand in every logbook</label>
        <n-input v-model:value="name" placeholder="" :maxlength="80" :input-props="{ id: 'first-name', autocomplete: 'username' }" />
        <secret-fields id="first-secret" v-model="secret" />
        <n-button
          type="primary"
          size="large"
          attr-type="submit"
          :loading="busy"
          :disabled="!name.trim() || secret.length < SECRET_LENGTH.min"
          >Make the first owner</n-button
        >
      </form>
      <p v-else>Do it on the machine that runs Vectum, by its address localhost.</p>
    </section>

    <template v-else-if="store.signer">
      <div class="bar">
        <h1>{{ store.signer.name }} <span class="soft as">{{ store.role }}: {{ roleWords[store.role] }}</span></h1>
        <div class="act">
          <n-button type="primary" :loading="busy" data-testid="pair" @click="pair()">Pair a tablet</n-button>
          <n-button @click="changing = !changing">New secret</n-button>
          <n-button @click="people.signOut()">Sign out</n-button>
        </div>
      </div>
      <form v-if="changing" class="narrow" @submit.prevent="newSecret">
        <label for="old-secret">Secret until now</label>
        <n-input
          v-model:value="current"
          placeholder=""
          type="password"
          :input-props="{ id: 'old-secret', autocomplete: 'current-password' }"
        />
        <secret-fields id="new-secret" v-model="secret" />
        <n-button attr-type="submit" :loading="busy" :disabled="secret.length < SECRET_LENGTH.min"
          >Keep it; sign out my other screens</n-button
        >
      </form>
      <code-card v-if="made" :made="made.code" :whose="made.whose" />

      <table>
        <thead>
          <tr>
            <th>Name</th>
            <th>May</th>
            <th></th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="m in members" :key="m.id" :class="{ gone: m.leftAt }" data-testid="member">
            <td>
              <strong>{{ m.name }}</strong>
            </td>
            <td>
              <select
                v-if="store.role === 'owner' && !m.leftAt"
                :value="m.role"
                :aria-label="`Role of ${m.name}`"
                @change="change(m, { role: ($event.target as HTMLSelectElement).value as Role })"
              >
                <option v-for="r in roles" :key="r" :value="r">{{ r }}</option>
              </select>
              <template v-else>{{ m.role }}</template>
            </td>
            <td class="soft">{{ standing(m) }}</td>
            <td class="end text-right">
              <template v-if="store.role === 'owner' && !m.leftAt && m.id !== store.signer.id">
                <n-button size="small" @click="pair(m)">{{ m.ready ? 'Secret forgotten' : 'Code again' }}</n-button>
                <n-popconfirm @positive-click="change(m, { leaves: true })">
                  <template #trigger><n-button size="small">Has left</n-button></template>
                  {{ m.name }} is signed out everywhere and cannot come back under this name. Their entries stay.
                </n-popconfirm>
              </template>
            </td>
          </tr>
        </tbody>
      </table>

      <form v-if="store.role === 'owner'" class="narrow" @submit.prevent="invite">
        <h2 class="mt-4">Somebody new</h2>
        <label for="invited">Name, as it will stand in every logbook</label>
        <n-input v-model:value="invited" placeholder="" :maxlength="80" :input-props="{ id: 'invited', autocomplete: 'off' }" />
        <n-radio-group v-model:value="role" aria-label="Role">
          <n-radio v-for="r in roles" :key="r" :value="r" class="flex min-h-36px">{{ r }}: {{ roleWords[r] }}</n-radio>
        </n-radio-group>
        <n-button attr-type="submit" :loading="busy" :disabled="!invited.trim()" data-testid="invite">Make their code</n-button>
      </form>
    </template>
  </house-page>
</template>

<style scoped>
.narrow {
  display: grid;
  gap: var(--s2);
  max-width: 520px;
  margin: var(--s4) 0;
  justify-items: start;
}
.narrow > * {
  width: 100%;
}
.narrow > button {
  width: auto;
}
.as {
  font: var(--t3) var(--text);
}
.end button {
  margin-left: var(--s2);
}
td {
  height: 52px;
}
.gone {
  color: var(--soft);
}
</style>
