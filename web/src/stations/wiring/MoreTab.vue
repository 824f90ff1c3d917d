<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { inputActionWords, outputProblem, outputSentence } from '@vectum/core'
import FactField from '../../quantity/FactField.vue'
import { quantity } from '../../quantity/field.ts'
import BoxForm from './BoxForm.vue'
import GaugeDial from './GaugeDial.vue'
import GaugeForm from './GaugeForm.vue'
import InputForm from './InputForm.vue'
import OutputTrial from './OutputTrial.vue'
import OutputForm from './OutputForm.vue'
import SenderForm from './SenderForm.vue'
import SenderCurve from './SenderCurve.vue'
import { useHarness } from './use-harness.ts'

/** What more hangs on the harness: a bus, senders with their curves, switched inputs, outputs with a condition, boxes with their firmware. */
const { wiring, change } = useHarness()
const busFields = [
  quantity('choices.wiring.bus.ends', 'count', '120 Ω each; two'),
  quantity('choices.wiring.bus.lengthM', 'distance', 'the whole'),
  quantity('choices.wiring.bus.stubM', 'distance', 'longest branch'),
]
const boxFields = [
  quantity('choices.wiring.powerBox.channels', 'count', 'by its sheet'),
  quantity('choices.wiring.powerBox.channelA', 'current', 'by its sheet'),
  quantity('choices.wiring.powerBox.totalA', 'current', 'by its sheet'),
]
const list = <T>(record: Readonly<Record<string, T>> | undefined) => Object.entries(record ?? {})
const senders = computed(() => list(wiring.value.senders))
const gauges = computed(() => list(wiring.value.gauges))
const inputs = computed(() => list(wiring.value.inputs))
const outputs = computed(() => list(wiring.value.outputs))
const boxes = computed(() => list(wiring.value.boxes))
</script>

<template>
  <section class="pad">
    <h2>Bus</h2>
    <div v-if="wiring.bus" class="fields" data-at="choices.wiring.bus.ends">
      <fact-field v-for="f in busFields" :key="f.path" :field="f" />
    </div>
    <div class="act">
      <n-button v-if="!wiring.bus" size="large" data-testid="bus-add" @click="change('bus', {})">Display and gauges on a bus</n-button>
      <n-button v-else size="large" @click="change('bus', undefined)">No bus</n-button>
    </div>

    <h2>Power box</h2>
    <div v-if="wiring.powerBox" class="fields" data-at="choices.wiring.powerBox.channels">
      <fact-field v-for="f in boxFields" :key="f.path" :field="f" />
    </div>
    <div class="act">
      <n-button v-if="!wiring.powerBox" size="large" data-testid="power-box-add" @click="change('powerBox', {})"
        >A box with channels instead of fuses and relays</n-button
      >
      <n-button v-else size="large" @click="change('powerBox', undefined)">Fuses and relays</n-button>
    </div>

    <div data-at="choices.wiring.senders">
      <h2>Senders</h2>
      <div v-for="[id, s] in senders" :key="id" class="item">
        <sender-curve :sender="s" />
        <n-button size="small" @click="change(`senders.${id}`, undefined)">Take out</n-button>
      </div>
      <sender-form :taken="Object.keys(wiring.senders ?? {})" @add="(id, s) => change(`senders.${id}`, s)" />
    </div>

    <div data-at="choices.wiring.gauges">
      <h2>Gauges</h2>
      <p v-if="!senders.length" class="soft">A gauge is driven by one of the senders above: enter the sender first.</p>
      <div v-for="[id, g] in gauges" :key="id" class="item">
        <gauge-dial v-if="wiring.senders?.[g.sender]" :gauge="g" :sender="wiring.senders[g.sender]" />
        <span v-else class="warn">{{ g.name }}: its sender is gone.</span>
        <n-button size="small" @click="change(`gauges.${id}`, undefined)">Take out</n-button>
      </div>
      <gauge-form
        v-if="senders.length"
        :taken="Object.keys(wiring.gauges ?? {})"
        :senders="senders"
        @add="(id, g) => change(`gauges.${id}`, g)"
      />
    </div>

    <div data-at="choices.wiring.inputs">
      <h2>Switched inputs</h2>
      <p v-for="[id, i] in inputs" :key="id" class="item">
        <strong>{{ i.name }}</strong> {{ inputActionWords[i.action] }}
        <n-button size="small" @click="change(`inputs.${id}`, undefined)">Take out</n-button>
      </p>
      <input-form :taken="Object.keys(wiring.inputs ?? {})" @add="(id, i) => change(`inputs.${id}`, i)" />
    </div>

    <div data-at="choices.wiring.outputs">
      <h2>Outputs with a condition</h2>
      <p v-for="[id, o] in outputs" :key="id" class="item">
        <strong>{{ o.name }}</strong> {{ outputSentence(o.when) }}
        <span v-if="outputProblem(o.when)" class="warn">{{ outputProblem(o.when) }}</span>
        <output-trial :when="o.when" />
        <n-button size="small" @click="change(`outputs.${id}`, undefined)">Take out</n-button>
      </p>
      <output-form :taken="Object.keys(wiring.outputs ?? {})" @add="(id, o) => change(`outputs.${id}`, o)" />
    </div>

    <div data-at="choices.wiring.boxes">
      <h2>Boxes and what runs in them</h2>
      <p v-for="[id, b] in boxes" :key="id" class="item">
        <strong>{{ b.name }}</strong> {{ b.firmware ?? 'version not read'
        }}<template v-if="b.least">, {{ b.wantedBy ?? 'another part' }} wants {{ b.least }}</template>
        <n-button size="small" @click="change(`boxes.${id}`, undefined)">Take out</n-button>
      </p>
      <box-form :taken="Object.keys(wiring.boxes ?? {})" @add="(id, b) => change(`boxes.${id}`, b)" />
    </div>
  </section>
</template>

<style scoped>
.item {
  display: flex;
  flex-wrap: wrap;
  gap: var(--s3);
  align-items: center;
  margin: var(--s2) 0;
}
</style>
