import { mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, expect, it } from 'vitest'
import { checkFact } from '@vectum/core'
import { useSettings } from '../stores/settings.ts'
import QuantityField from './QuantityField.vue'

beforeEach(() => {
  localStorage.clear()
  setActivePinia(createPinia())
})
const field = (modelValue?: number) =>
  mount(QuantityField, {
    props: { modelValue, label: 'Fuel pressure', dimension: 'pressure', check: (v) => checkFact('choices.plan.fuelPressureKpa', v) },
  })

it('takes a number in any unit and gives it back metric', async () => {
  const w = field()
  await w.find('input').setValue('58 psi')
  await w.find('input').trigger('change')
  expect(w.emitted('update:modelValue')![0][0]).toBeCloseTo(399.9, 1)
})

it.each([
  ['strong', 'Fuel pressure is not a number'],
  ['4 miles', 'kPa, psi, bar'],
  ['9 bar', 'must be at most 700 kPa'],
])('"%s" stays on the screen with the reason and changes nothing', async (text, words) => {
  const w = field(300)
  await w.find('input').setValue(text)
  await w.find('input').trigger('change')
  expect(w.find('[role=alert]').text()).toContain(words)
  expect(w.find('input').element.value).toBe(text)
  expect(w.emitted('update:modelValue')).toBeUndefined()
  await w.find('.undo').trigger('click')
  expect(w.find('input').element.value).toBe('300')
})

it('shows the unit a person chose', async () => {
  const w = field(400)
  useSettings().system = 'inch'
  await w.vm.$nextTick()
  expect(w.find('.unit').text()).toBe('psi')
  expect(Number(w.find('input').element.value)).toBeCloseTo(58.02, 2)
})

it('empty means not known', async () => {
  const w = field(300)
  await w.find('input').setValue('')
  await w.find('input').trigger('change')
  expect(w.emitted('update:modelValue')!.at(-1)).toEqual([undefined])
})
