<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { type BenchCard, benchCards, fitupFaultIds, fitupInstruments, jointTorque } from '@vectum/core'
import EntryForm from '../../kit/EntryForm.vue'
import EntryStanding from '../../kit/EntryStanding.vue'
import BenchFaults from '../../shell/BenchFaults.vue'
import { useLanding } from '../../shell/landing.ts'
import { useFitup } from './use-fitup.ts'

/** The job on cards in working order: one open at a time, in type that reads from a metre, recorded where it guards something. */
const emit = defineEmits<{ room: [room: string] }>()
const { builds, settings, c, fitup, onBench, benchKind, readBench, record, said } = useFitup()
const landing = useLanding()
const cards = computed(() => benchCards(c.value))
const open = ref<string | null>(null)
const roomWords: Record<string, string> = {
  bolts: 'The pattern',
  ports: 'The map',
  linkage: 'The linkage',
  pedal: 'Pedal and plate',
  bonnet: 'The section',
  sensor: 'The pipe',
  boxes: 'The places',
  balance: 'The throttles',
}
const next = computed(() => cards.value.find((card) => !card.done)?.id ?? null)
watch(next, (id) => (open.value ??= id), { immediate: true })
watch(
  landing.at,
  (at) => {
    const card = at && (cards.value.find((x) => x.reads === at && !x.done) ?? cards.value.find((x) => x.reads === at || x.id === at))
    if (card) open.value = card.id
  },
  { immediate: true },
)
const subjectOf: Record<string, string> = { 'fitup.torqued': 'joint', 'fitup.box': 'box', 'fitup.tracks': 'which' }
const subject = (card: BenchCard): Record<string, unknown> =>
  card.reads && card.of && subjectOf[card.reads] ? { [subjectOf[card.reads]]: card.of } : {}
const onRecord = (card: BenchCard) =>
  card.reads
    ? record(card.reads).filter((r) => !card.of || Object.values(subject(card)).every((s) => Object.values(r.value as object).includes(s)))
    : []
async function readCard(card: BenchCard): Promise<void> {
  const kind = card.reads!
  const joint = kind === 'fitup.torqued' ? (card.of as 'throttle') : undefined
  const wanted = joint ? jointTorque(fitup.value.joints?.[joint] ?? {})?.torqueNm : undefined
  await readBench(kind, {
    ...(joint ? { joint } : {}),
    ...(wanted === undefined ? {} : { setNm: wanted }),
    ...(kind === 'fitup.box' ? { box: card.of as 'unit' } : {}),
    ...(kind === 'fitup.tracks' ? { tracks: card.of as 'pedal' } : {}),
  })
}
const opened = [
  ['fitup.body-off', 'Throttle body or manifold came off again'],
  ['fitup.hose-off', 'A vacuum hose was moved'],
  ['fitup.linkage-off', 'Linkage was opened or set otherwise'],
  ['fitup.exhaust-off', 'Exhaust was taken down'],
] as const
</script>

<template>
  <section class="pad">
    <p class="soft" data-testid="cards-done">{{ cards.filter((x) => x.done).length }} of {{ cards.length }} done</p>
    <ol class="cards list-none p-0">
      <li v-for="(card, i) in cards" :key="card.id" :data-at="card.reads ?? card.id" :class="{ next: card.id === next, done: card.done }">
        <button
          class="head-row"
          :aria-expanded="open === card.id"
          :data-testid="`card-${card.id}`"
          @click="open = open === card.id ? null : card.id"
        >
          <span class="num min-w-28px text-soft">{{ i + 1 }}</span>
          <strong>{{ card.title }}</strong>
          <span class="state" :class="card.done ? 'clear' : 'soft'">{{ card.done ? 'done' : card.id === next ? 'next' : '' }}</span>
        </button>
        <div v-if="open === card.id" class="body">
          <p class="text-t4 leading-[1.3] max-w-62ch">{{ settings.say(card.does) }}</p>
          <dl class="grid grid-cols-[max-content_1fr] gap-y-1 gap-x-4">
            <dt>Why</dt>
            <dd>{{ card.why }}</dd>
            <template v-if="card.tools.length"
              ><dt>With</dt>
              <dd>{{ card.tools.join(', ') }}</dd></template
            >
            <template v-if="card.torque"
              ><dt>Torque</dt>
              <dd data-testid="card-torque">{{ card.torque }}</dd></template
            >
            <dt>Done when</dt>
            <dd>{{ settings.say(card.doneWhen) }}</dd>
          </dl>
          <p v-for="text in card.cautions" :key="text" class="warn">{{ text }}</p>
          <div class="act">
            <n-button v-if="card.room" size="large" @click="emit('room', card.room)">{{ roomWords[card.room] }}</n-button>
            <n-button
              v-if="onBench && card.reads && benchKind(card.reads)"
              size="large"
              dashed
              :data-testid="`bench-${card.id}`"
              @click="readCard(card)"
              >Bench: {{ fitupInstruments[card.reads].title }}</n-button
            >
          </div>
          <entry-form
            v-if="card.reads"
            :kind="card.reads"
            :given="subject(card)"
            :without="Object.keys(subject(card))"
            :each="card.of ?? undefined"
          />
          <ul v-if="onRecord(card).length" class="entries">
            <li v-for="r in onRecord(card)" :key="r.id">{{ said(card.reads!, r.value) }} <entry-standing :reading-id="r.id" /></li>
          </ul>
        </div>
      </li>
    </ol>
    <details>
      <summary class="min-h-44px cursor-pointer">Something was opened again</summary>
      <p class="measure">What was proved on it ends there, and is asked for anew.</p>
      <div v-for="[kind, words] in opened" :key="kind">
        <h3>{{ words }}</h3>
        <entry-form :kind="kind" />
      </div>
    </details>
    <bench-faults v-if="onBench" :ids="fitupFaultIds" />
    <p v-if="builds.refused" class="stop">{{ builds.refused }}</p>
  </section>
</template>

<style scoped>
.cards > li {
  border-left: 4px solid var(--hair);
  padding-left: var(--s3);
  margin-bottom: var(--s1);
}
.cards > li.next {
  border-color: var(--ink);
}
.cards > li.done {
  border-color: var(--clear);
}
.head-row {
  width: 100%;
  min-height: 44px;
  border: 0;
  background: none;
  color: var(--ink);
  font: inherit;
  font-size: var(--t3);
  text-align: left;
  cursor: pointer;
  justify-content: flex-start;
}
.state {
  margin-left: auto;
  font-family: var(--head);
}
dt {
  color: var(--soft);
}
dd {
  margin: 0;
  font-size: var(--t3);
}
</style>
