<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { checkReading, drivenTach, rpmOfFrequency } from '@vectum/core'
import EntryForm from '../../kit/EntryForm.vue'
import QuantityField from '../../quantity/QuantityField.vue'
import { useBuild } from '../../stores/build.ts'

/** The tachometer by itself, off the car or with its wire off: driven from a known frequency, each setting of it or of its converter tried. */
const builds = useBuild()
const c = computed(() => builds.context!)
const made = computed(() => c.value.tach.setCylinders ?? c.value.resolved.cylinders)
const settings = computed(() => drivenTach(c.value) ?? [])
const hz = ref<number | undefined>(100)
const bench = (): void => void builds.readBench('tach.driven', { frequencyHz: hz.value ?? 100 })
</script>

<template>
  <h2>Driven alone</h2>
  <p class="measure">
    Its wire off the source, a generator in its place: then it is the tachometer that is wrong, or it is not. For
    {{ made ?? 'so many' }} cylinders
    <template v-if="made"
      >100 Hz are {{ rpmOfFrequency(100, made).toFixed(0) }} rpm, 200 Hz {{ rpmOfFrequency(200, made).toFixed(0) }} rpm.</template
    >
  </p>
  <entry-form kind="tach.driven" />
  <div class="act">
    <quantity-field
      v-model="hz"
      label="Bench generator, Hz"
      dimension="number"
      input-id="tach-bench-hz"
      :check="(v) => checkReading('tach.driven', 'frequencyHz', v)"
    />
    <n-button size="large" dashed data-testid="bench-tach.driven" @click="bench">Bench: drive it and look</n-button>
  </div>
  <table v-if="settings.length" class="plain" data-testid="driven">
    <thead>
      <tr>
        <th>Setting</th>
        <th>Looks</th>
        <th>Shows of the truth</th>
        <th></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="s in settings" :key="s.setting">
        <td>{{ s.setting }}</td>
        <td>{{ s.looks }}</td>
        <td>{{ (100 * s.gain).toFixed(0) }} %</td>
        <td :class="s.proved ? 'clear' : s.wants ? 'soft' : 'warn'">
          {{
            s.proved
              ? 'proved'
              : s.wants
                ? `wants ${s.wants}`
                : s.countsLike && s.countsLike !== made
                  ? `counts like ${s.countsLike} cylinders`
                  : 'wrong'
          }}
        </td>
      </tr>
    </tbody>
  </table>
</template>
