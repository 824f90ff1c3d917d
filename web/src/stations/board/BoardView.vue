<script setup lang="ts">
import type { BoardEntry } from '@vectum/core'
import { onMounted, ref } from 'vue'
import { RouterLink } from 'vue-router'
import type { ApiError } from '../../api/client.ts'
import { api } from '../../api/client.ts'
import { useLink } from '../../stores/link.ts'
import { useMe } from '../../stores/me.ts'
import { useSettings } from '../../stores/settings.ts'
import HousePage from '../../shell/HousePage.vue'
import { routeTo } from '../../shell/landing.ts'
import StateMark from '../../shell/StateMark.vue'
import OpenBuild from './OpenBuild.vue'

const link = useLink()
const me = useMe()
const settings = useSettings()
const builds = ref<BoardEntry[] | null>(null)
const error = ref<ApiError | null>(null)

async function load(): Promise<void> {
  error.value = null
  try {
    builds.value = await api(
      '/builds',
      import('../../api/wire.ts').then((wire) => wire.Board),
    )
  } catch (e) {
    error.value = e as ApiError
  }
}
onMounted(load)
link.onBack(() => void load())
me.onEntered(() => void (builds.value ?? load()))

const stopOf = (b: BoardEntry) => b.stations.find((s) => s.state === 'blocked')?.stops[0] ?? null
</script>

<template>
  <house-page title="Board" says="every car, where it stands, what it waits for">
    <p v-if="me.me?.access === 'open'" class="open soft m-0" data-testid="open-house">
      Open on this machine alone: whoever sits here is everybody.
      <router-link to="/people">Make the first owner</router-link> to sign in by name and to let tablets in.
    </p>
    <p v-if="error" class="stop" role="alert">{{ error.message }} <button class="plain again" @click="load">Try again</button></p>
    <p v-if="!builds && !error" class="soft">Reading the builds …</p>
    <template v-if="builds">
      <p v-if="!builds.length" class="empty text-t4">No cars yet. Open the first build below; the survey asks what it needs.</p>
      <article v-for="b in builds" :key="b.id" class="car" data-testid="build">
        <router-link class="who" :to="{ name: b.next.station, params: { id: b.id } }">
          <h2 class="text-t5">{{ b.title }}</h2>
          <span class="soft">{{ [b.car.year, b.car.body].filter(Boolean).join(' ') }}</span>
          <span v-if="b.car.owner" class="soft owner block text-t2">{{ b.car.owner }}</span>
        </router-link>
        <ol class="marks flex list-none m-0 p-0 relative" :aria-label="`${b.title}, stations`">
          <li v-for="s in b.stations" :key="s.id" class="flex-1 relative">
            <router-link :to="{ name: s.id, params: { id: b.id } }" :title="s.stops.join('; ')">
              <state-mark :state="s.state" :size="24" />
              <strong class="head text-t3">{{ s.title }}</strong>
              <small class="text-soft text-t1">{{ s.state === 'blocked' ? 'stop' : s.state }}</small>
            </router-link>
          </li>
        </ol>
        <router-link class="next" :to="routeTo(b.next.where, b.id)">
          <small v-if="stopOf(b)" class="stop block text-t2">Stopped: {{ stopOf(b) }}</small>
          <small v-else class="soft block text-t2">Next, at {{ b.stations.find((s) => s.id === b.next.station)?.title }}</small>
          <span class="head text-t4">{{ settings.say(b.next.said) }}</span>
        </router-link>
        <p v-if="b.temporary" class="held" data-testid="temporary">
          For the time being: {{ b.temporary }}
          <router-link :to="routeTo({ station: 'unit', part: 'answers' }, b.id)">Release it</router-link>
        </p>
      </article>
      <open-build :builds="builds" @refused="(e) => (error = e)" />
    </template>
  </house-page>
</template>

<style scoped>
.car {
  display: grid;
  grid-template-columns: 230px minmax(0, 1fr) 330px;
  gap: var(--s4);
  align-items: center;
  border-bottom: 1px solid var(--hair);
  padding: var(--s4) 0;
}
a {
  color: inherit;
  text-decoration: none;
}
.marks::before {
  content: '';
  position: absolute;
  left: 8%;
  right: 8%;
  top: 19px;
  border-top: 1px solid var(--soft);
}
.marks a {
  display: flex;
  flex-direction: column;
  align-items: center;
  text-align: center;
  padding: var(--s2) 2px;
  min-height: 72px;
  line-height: 1.15;
}
.marks a:hover {
  background: var(--wash);
}
.marks svg {
  background: var(--sheet);
  margin-bottom: var(--s1);
}
.next {
  border-left: 5px solid var(--ink);
  padding: var(--s2) var(--s3);
  min-height: 64px;
}
.next:hover {
  background: var(--wash);
}
.held {
  grid-column: 1 / -1;
  margin: 0;
  border-left: 5px solid var(--warn);
  padding: var(--s1) var(--s3);
}
.held a {
  display: inline-block;
  padding: var(--s2) var(--s1);
  text-decoration: underline;
}
.open a,
.again {
  text-decoration: underline;
}
@media (max-width: 1000px) {
  .car {
    grid-template-columns: 1fr;
    gap: var(--s2);
  }
}
</style>
