<script setup lang="ts">
import { computed } from 'vue'
import { pathWords } from '@vectum/core'
import FactField from '../../quantity/FactField.vue'
import { pick, quantity as q, words, yesNo } from '../../quantity/field.ts'
import { useBuild } from '../../stores/build.ts'
import ChannelList from './ChannelList.vue'
import QuestionList from './QuestionList.vue'
import UnitProfiles from './UnitProfiles.vue'

/** The unit as a thing: asked once, each of it may stay unknown; what is then taken stands beside it. */
const builds = useBuild()
const unit = computed(() => builds.current!.choices.unit ?? {})
const at = (name: string): string => `choices.unit.${name}`
const setting = [
  words('choices.plan.unit.name'),
  words(at('firmware')),
  pick(at('setBy'), [
    ['questions', 'questions on its display'],
    ['tables', 'tables from a computer'],
    ['both', 'both'],
  ]),
  pick(at('mixtureIn'), [
    ['lambda', 'lambda'],
    ['AFR', 'AFR'],
  ]),
  pick(
    at('pressureIn'),
    ['kPa', 'psi', 'bar', 'inHg'].map((u) => [u, u]),
  ),
  pick(
    at('temperatureIn'),
    ['°C', '°F'].map((u) => [u, u]),
  ),
  pick(at('logLeavesBy'), [
    ['card', 'a card'],
    ['cable', 'a cable'],
    ['radio', 'radio'],
    ['none', 'not at all'],
  ]),
  yesNo(at('hasMarker')),
]
const learner = [
  pick(at('learns'), [
    ['itself', 'the unit, into its own cells'],
    ['trim', 'only a trim that is forgotten'],
    ['nobody', 'nobody: a person corrects the tables'],
  ]),
  words(at('whyLearns')),
]
const learning = [
  pick(at('learnedForm'), [
    ['percent', 'per cent'],
    ['ratio', 'a ratio'],
    ['ve-points', 'points of VE'],
    ['ms', 'milliseconds'],
  ]),
  {
    kind: 'numbers',
    path: at('learnedRpm'),
    label: pathWords(at('learnedRpm')),
    dimension: 'rpm',
    example: '500 1200 2000 3000 4500',
  } as const,
  {
    kind: 'numbers',
    path: at('learnedMapKpa'),
    label: pathWords(at('learnedMapKpa')),
    dimension: 'pressure',
    example: '20 40 60 80 100',
  } as const,
  q(at('learnLimitPct'), 'percent'),
  q(at('learnSettleS'), 'timeS'),
  q(at('learnFromCoolantC'), 'temperature'),
  q(at('learnFromRpm'), 'rpm'),
  q(at('learnToMapKpa'), 'pressure'),
  pick(at('saves'), [
    ['always', 'at once'],
    ['key-off', 'as the key goes off'],
    ['by-hand', 'when it is told to'],
  ]),
  yesNo(at('foldsIntoBase')),
  yesNo(at('keepsOverKeyOff')),
  yesNo(at('keepsOverBatteryOff')),
]
const idle = [
  pick(at('idleLearns'), [
    ['valve', 'the valve’s position'],
    ['air', 'idle air'],
    ['spark', 'idle spark'],
    ['nothing', 'nothing'],
  ]),
  q(at('idleLearnLimitPct'), 'percent'),
]
const taken = computed(() => [
  ...(unit.value.setBy === undefined ? ['How it is set is not known: it is taken to be set by tables.'] : []),
  ...(unit.value.learns === undefined ? ['Who learns is not known: learned values in a log count as what the table is off by.'] : []),
  ...(unit.value.learns === 'itself' && unit.value.learnLimitPct === undefined
    ? ['Its limit is not known: a cell at its limit cannot be told from one that has settled.']
    : []),
  ...(unit.value.learns === 'itself' && unit.value.learnedRpm === undefined
    ? ['The cells it learns in are not known: what it holds is read between the cells of the tune.']
    : []),
])
</script>

<template>
  <unit-profiles />
  <h2>How it is set, and what it tells</h2>
  <div class="fields"><fact-field v-for="f in setting" :key="f.path" :field="f" /></div>
  <h2>Who learns</h2>
  <p class="soft measure">
    Both schools are respected: units that learn by themselves, and persons who correct tables and leave learning off, which is better at
    high load, in boost and with wild cams. Say which is taken, and why.
  </p>
  <div class="fields"><fact-field v-for="f in learner" :key="f.path" :field="f" /></div>
  <template v-if="unit.learns === 'itself'">
    <h2>Its learning</h2>
    <div class="fields"><fact-field v-for="f in learning" :key="f.path" :field="f" /></div>
  </template>
  <h2>Idle learning</h2>
  <div class="fields"><fact-field v-for="f in idle" :key="f.path" :field="f" /></div>
  <div v-if="taken.length" class="boxed" data-testid="unit-assumed">
    <strong>Taken while it is not known</strong>
    <ul>
      <li v-for="t in taken" :key="t">{{ t }}</li>
    </ul>
  </div>
  <channel-list />
  <question-list />
  <p>
    What it offers, output by output, stands at
    <router-link :to="{ name: 'plan', params: { id: builds.current!.id }, query: { tab: 'unit' } }">Plan</router-link>.
  </p>
</template>
