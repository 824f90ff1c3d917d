import { flushPromises, mount, RouterLinkStub } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { computeBaseTune, KEY_OFF_S, readingsOf, tuneFigures } from '@vectum/core'
import { madeReading, soundBuild } from '../../../../core/src/judge/made-up.fixture.ts'
import { useBuild } from '../../stores/build.ts'
import { openBuild } from '../../testing/open-build.fixture.ts'
import { storedTune } from '../../testing/stored-tune.fixture.ts'
import AnswerWalk from './AnswerWalk.vue'
import ChannelList from './ChannelList.vue'
import HelpPacket from './HelpPacket.vue'
import PrintedCard from './PrintedCard.vue'
import QuestionList from './QuestionList.vue'
import TemporaryAnswers from './TemporaryAnswers.vue'
import UnitThing from './UnitThing.vue'

const { facts, choices } = soundBuild()
const figures = tuneFigures(computeBaseTune(facts, choices), { facts, choices })
const tune = storedTune({ number: 3, figures: { ...figures, revLimitRpm: 5230 } })
const opened = (unit: object = {}, readings: ReturnType<typeof madeReading>[] = []) =>
  openBuild({ tunes: [tune], choices: { unit: { setBy: 'questions', learns: 'nobody', ...unit } } }, readings)
const stubs = { RouterLink: RouterLinkStub }
const walk = () => mount(AnswerWalk, { global: { stubs } })
type Walk = ReturnType<typeof walk>
const open = async (w: Walk, words: string) => {
  const found = w.findAll('button.q').find((b) => b.text().includes(words))!
  await found.trigger('click')
}
const mode = (w: Walk, words: string) =>
  w
    .findAll('[role="radio"]')
    .find((b) => b.text() === words)!
    .trigger('click')
const back = () => readingsOf(useBuild().context!.readings, 'unit.read-back')
afterEach(() => {
  vi.restoreAllMocks()
  return flushPromises()
})

describe('one question at a time', () => {
  it('shows the answer, where it came from, why it was rounded so, and what a wrong one does', async () => {
    await opened()
    const w = walk()
    await open(w, 'Rev limit')
    expect(w.find('[data-testid="answer"]').text()).toBe('5200 rpm')
    expect(w.text()).toContain('tune 3, rev limit')
    expect(w.text()).toContain('5230.0 rounded down: a low limit costs nothing but speed')
    expect(w.find('.danger').text()).toContain('over-revved')
    expect(w.find('[data-testid="held"]').text()).toMatch(/^0 of \d+ compared equal$/)
    await w.find('[data-testid="next-question"]').trigger('click')
    expect(w.find('.ask').text()).toBe('Fuel cut on overrun above')
  })
  it('typing back hides the answer until a value stands there, says whether it is the same, and wants the key-off told', async () => {
    await opened()
    const w = walk()
    await mode(w, 'Type back after a key-off')
    await open(w, 'Rev limit')
    expect(w.find('[data-testid="answer"]').exists()).toBe(false)
    await w.find('[data-testid="typed-back"]').setValue('7000')
    expect(w.find('[data-testid="same"]').text()).toBe('Not what was meant (5200 rpm).')
    await w.find('[data-testid="typed-back"]').setValue('five')
    expect(w.find('[role="alert"]').text()).toContain('“five” is not a number of rpm')
    await w.find('[data-testid="typed-back"]').setValue('5200')
    expect(w.find('[data-testid="same"]').text()).toBe('The same.')
    const record = () => w.find('[data-testid="record-read-back"]')
    expect(record().attributes('disabled')).toBeDefined()
    expect(w.text()).toContain(`${KEY_OFF_S} s or more count`)
    await w.find('[data-testid="off-s"]').setValue('9')
    expect(w.text()).toContain('The key was off for 9 s; 10 s or more are wanted')
    await w.find('[data-testid="off-s"]').setValue('10')
    await record().trigger('click')
    expect(back().at(-1)!.value).toMatchObject({
      offS: 10,
      values: { 'rev-limit': { value: 5200, unit: 'rpm' } },
      wanted: { 'rev-limit': 5200 },
    })
    expect(w.find('[data-testid="held"]').text()).toMatch(/^1 of/)
    // what is known to be equal is not asked again
    expect(w.findAll('button.q').some((b) => b.text().includes('Rev limit'))).toBe(false)
  })
  it('opens at the first that is not in the unit, once some are', async () => {
    const told = (values: Record<string, { value: number; unit: string }>) =>
      madeReading('unit.read-back', { tuneId: tune.id, offS: 12, values, wanted: {} })
    await opened()
    expect(walk().find('.ask').text()).toBe('Cylinders')
    await opened({}, [told({ cylinders: { value: facts.engine!.cylinders!, unit: '' } })])
    expect(walk().find('.ask').text()).toBe('Displacement')
    await opened({}, [told({ displacement: { value: facts.engine!.displacementCc!, unit: 'cc' } })])
    expect(walk().find('.ask').text()).toBe('Cylinders')
  })
  it('a value typed in another unit is brought to the one that is asked: 3 bar are 300 kPa', async () => {
    await opened()
    const w = walk()
    await mode(w, 'Type back after a key-off')
    await open(w, 'Fuel pressure of that flow')
    await w.find('[data-testid="typed-back"]').setValue('3')
    expect(w.find('[data-testid="same"]').text()).toContain('Not what was meant')
    await w
      .findAll('[aria-label="Typed in"] [role="radio"]')
      .find((b) => b.text() === 'bar')!
      .trigger('click')
    expect(w.find('[data-testid="same"]').text()).toBe('The same.')
    await w.find('[data-testid="off-s"]').setValue('11')
    await w.find('[data-testid="record-read-back"]').trigger('click')
    expect(back().at(-1)!.value.values['fuel-pressure']).toEqual({ value: 3, unit: 'bar' })
  })
  it('a choice is picked, and a value that differs says what it does to the car', async () => {
    await opened()
    const w = walk()
    await mode(w, 'Type back after a key-off')
    await open(w, 'Cam')
    await w
      .findAll('[aria-label="The unit shows"] [role="radio"]')
      .find((b) => b.text() === 'wild')!
      .trigger('click')
    expect(w.find('[data-testid="same"]').text()).toContain('Not what was meant (mild)')
    await w.find('[data-testid="off-s"]').setValue('20')
    await w.find('[data-testid="record-read-back"]').trigger('click')
    await mode(w, 'Answer at its display')
    await open(w, 'Cam')
    expect(w.text()).toContain('the unit holds another value (wild')
    expect(w.text()).toContain('for another engine')
  })
  it('a value that differs may be the right one: one tap to where it is told, with it offered in metric', async () => {
    const told = (id: string, value: number | string, unit?: string) =>
      madeReading('unit.read-back', { tuneId: tune.id, offS: 12, values: { [id]: { value, ...(unit ? { unit } : {}) } } })
    await opened({}, [told('displacement', 122, 'cu in'), told('rev-limit', 4800, 'rpm'), told('cam', 'wild')])
    const w = walk()
    const to = async (words: string) => {
      await open(w, words)
      return w.findComponent(RouterLinkStub).props('to') as { name: string; query: Record<string, string> }
    }
    // 122 cubic inches are 122 x 16.387 = 1,999.2 cubic centimetres
    const displacement = await to('Displacement')
    expect([displacement.name, displacement.query.at]).toEqual(['survey', 'facts.engine.displacementCc'])
    expect(Number(displacement.query.offer)).toBeCloseTo(1999.2, 0)
    expect(await to('Rev limit')).toMatchObject({ name: 'tune', query: { tab: 'parameters', at: 'revLimitRpm', offer: '4800' } })
    expect(await to('Cam')).toMatchObject({ name: 'survey', query: { at: 'facts.cam.class', offer: 'wild' } })
    await open(w, 'Injectors sit')
    expect(w.find('[data-testid="unit-is-right"]').exists()).toBe(false)
  })
  it('what cannot be answered yet names what it needs', async () => {
    await opened({ learns: undefined })
    await useBuild().change('choices.unit.learns', undefined)
    const w = walk()
    await open(w, 'Learning')
    expect(w.text()).toContain('Needs first: who learns')
  })
})

describe('the card on paper', () => {
  it('lists every answer with its unit, the side it was rounded to, and what the unit showed', async () => {
    await opened({}, [madeReading('unit.read-back', { tuneId: tune.id, offS: 12, values: { 'rev-limit': { value: 5200, unit: 'rpm' } } })])
    const w = mount(PrintedCard)
    const row = w.findAll('tr').find((r) => r.text().includes('Rev limit'))!
    expect(row.findAll('td').map((d) => d.text())).toEqual(['5200 rpm ↓', 'tune 3, rev limit', '5200 rpm'])
    expect(w.text()).toContain('The maker’s sheet of a part goes before this card')
  })
})

describe('answers for the time being', () => {
  it('are set with their value, stand until they are released', async () => {
    await opened()
    const mounted = () =>
      mount(TemporaryAnswers, {
        props: { standing: readingsOf(useBuild().context!.readings, 'unit.temporary').filter((r) => r.value.stands) },
      })
    const w = mounted()
    expect(w.find('[data-testid="stands-low-limit"]').attributes('disabled')).toBeDefined()
    await w.findAll('input')[1].setValue('3000')
    await w.find('[data-testid="stands-low-limit"]').trigger('click')
    const [entry] = readingsOf(useBuild().context!.readings, 'unit.temporary')
    expect(entry.value).toEqual({ what: 'low-limit', stands: true, value: 3000 })
    const standing = mounted()
    expect(standing.text()).toContain('stands at 3000 rpm, until the timing is proved with the light')
    await standing.find('[data-testid="release-low-limit"]').trigger('click')
    expect(readingsOf(useBuild().context!.readings, 'unit.temporary').at(-1)!.value.stands).toBe(false)
  })
})

describe('the unit as a thing', () => {
  const thing = async () => {
    vi.stubGlobal('scrollTo', () => {})
    const w = mount(UnitThing, { global: { stubs: { ...stubs, QuestionList: true, ChannelList: true, UnitProfiles: true } } })
    await flushPromises()
    return w
  }
  it('says what is taken while it is not known, and asks about learning only where it learns', async () => {
    await openBuild({ tunes: [tune] })
    let w = await thing()
    expect(w.find('[data-testid="unit-assumed"]').text()).toContain('taken to be set by tables')
    expect(w.text()).not.toContain('Learns up to')
    await opened({ learns: 'itself' })
    w = await thing()
    expect(w.text()).toContain('Learns up to')
    expect(w.find('[data-testid="unit-assumed"]').text()).toContain('The cells it learns in are not known')
  })
  it('its questions are left out, worded, and given a unit and a step of their own', async () => {
    await opened()
    const w = mount(QuestionList)
    const row = () =>
      w.findAll('tr').find((r) => r.find('th[scope="row"]').exists() && r.find('th').text() === 'Fuel pressure of that flow')!
    await row().find('select').setValue('psi')
    expect(useBuild().current!.choices.unit!.questions!['fuel-pressure']).toEqual({ unit: 'psi' })
    const inputs = row().findAll('input')
    await inputs.at(-1)!.setValue('0.5')
    await inputs.at(-1)!.trigger('change')
    expect(useBuild().current!.choices.unit!.questions!['fuel-pressure'].step).toBe(0.5)
  })
  it('what it logs is ticked channel by channel', async () => {
    await opened({ logs: ['rpm'] })
    const w = mount(ChannelList)
    await w.find('[aria-label="learned value, in its log"]').trigger('click')
    expect(useBuild().current!.choices.unit!.logs).toEqual(['rpm', 'learned'])
  })
})

describe('help from outside', () => {
  it('asks for the packet with what was typed, the owner left out; an answer is an entry', async () => {
    await opened()
    const w = mount(HelpPacket)
    await w.find('textarea').setValue('surges')
    const fetched: string[] = []
    vi.stubGlobal('fetch', (url: string) => {
      fetched.push(url)
      return Promise.resolve(new Response('no', { status: 500 }))
    })
    await w.find('[data-testid="make-packet"]').trigger('click')
    await flushPromises()
    expect(fetched[0]).toContain('/packet.zip?owner=0&symptom=surges')
    expect(w.find('[role="alert"]').text()).toContain('could not be made')
  })
})
