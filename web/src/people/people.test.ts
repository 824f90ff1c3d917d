import { flushPromises, mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { createMemoryHistory, createRouter } from 'vue-router'
import { useMe } from '../stores/me.ts'
import { nobodySignsIn, signedIn } from '../testing/me.fixture.ts'
import OneTimeCode from './OneTimeCode.vue'
import PeopleView from './PeopleView.vue'
import SignInSheet from './SignInSheet.vue'

let calls: { method: string; path: string; body: unknown }[]
let answers: Record<string, { status?: number; body: unknown }>
beforeEach(() => {
  localStorage.clear()
  setActivePinia(createPinia())
  calls = []
  answers = {}
  vi.stubGlobal(
    'fetch',
    vi.fn(async (url: string, { method = 'GET', body }: RequestInit = {}) => {
      const path = url.replace('/api', '')
      calls.push({ method, path, body: body ? JSON.parse(String(body)) : undefined })
      const { status = 200, body: answer } = answers[`${method} ${path}`] ?? { body: [] }
      const type = status < 400 ? 'application/json' : 'application/problem+json'
      return new Response(JSON.stringify(answer), { status, headers: { 'content-type': type } })
    }),
  )
})
afterEach(() => vi.unstubAllGlobals())

async function shown(component: object, path = '/people') {
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      { path: '/people', name: 'people', component: { template: '<i/>' } },
      { path: '/pair', name: 'pair', component: { template: '<i/>' } },
      { path: '/', name: 'board', component: { template: '<i/>' } },
    ],
  })
  await router.push(path)
  const page = mount(component, { global: { plugins: [router], stubs: { CarStrip: true, HelpSheet: true, FindPalette: true } } })
  await flushPromises()
  return { page, router }
}
const button = (page: ReturnType<typeof mount>, words: string) => page.findAll('button').find((b) => b.text().includes(words))!
const day = '2026-05-04T08:00:00.000Z'
const member = (name: string, role: string, more: object = {}) => ({
  id: `id-of-${name}`,
  name,
  role,
  since: day,
  leftAt: null,
  ready: true,
  ...more,
})

it('before anybody signs in it says who is everybody, and makes the first owner from a name and twelve characters', async () => {
  useMe().take(nobodySignsIn)
  answers['POST /people/first'] = { status: 201, body: signedIn('Ada', 'owner') }
  const { page } = await shown(PeopleView)
  expect(page.text()).toContain('Whoever sits at this machine is everybody')
  await page.get('#first-name').setValue('Ada')
  await page.get('#first-secret').setValue('elevenchars')
  expect([page.text().includes('1 more'), button(page, 'Make the first').attributes('disabled')]).toEqual([true, ''])
  await page.get('#first-secret').setValue('twelve chars')
  await page.get('form').trigger('submit')
  await flushPromises()
  expect(calls.find((c) => c.method === 'POST')).toMatchObject({ path: '/people/first', body: { name: 'Ada', secret: 'twelve chars' } })
  expect(page.get('h1').text()).toContain('Ada')
})

it('on another machine the first owner cannot be made, and it says where', async () => {
  useMe().take({ ...nobodySignsIn, firstOwner: false })
  const { page } = await shown(PeopleView)
  expect(page.find('#first-name').exists()).toBe(false)
  expect(page.text()).toContain('localhost')
})

it('an owner gives roles, sees who has left, and gets a code for whom they invite; a fitter does none of it', async () => {
  useMe().take(signedIn('Ada', 'owner'))
  answers['GET /people'] = {
    body: [member('Ada', 'owner'), member('Bob', 'fitter', { ready: false }), member('Lev', 'fitter', { leftAt: day })],
  }
  answers['POST /people'] = {
    status: 201,
    body: { person: member('Finn', 'reader'), invitation: { code: 'ABCDE23456', expiresAt: day, addresses: [] } },
  }
  const { page } = await shown(PeopleView)
  const rows = page.findAll('[data-testid=member]')
  expect(rows.map((r) => r.text().includes('Has left'))).toEqual([false, true, false])
  expect(rows[1].text()).toContain('invited, not in yet')
  expect(rows[2].text()).toContain('left')
  await rows[1].get('select').setValue('reader')
  await flushPromises()
  expect(calls.find((c) => c.method === 'PATCH')).toMatchObject({ path: '/people/id-of-Bob', body: { role: 'reader' } })
  await page.get('#invited').setValue('Finn')
  await page.findAll('form').at(-1)!.trigger('submit')
  await flushPromises()
  expect(page.get('[data-testid=one-time-code]').text()).toContain('ABCDE 23456')

  useMe().take(signedIn('Finn', 'fitter'))
  const { page: other } = await shown(PeopleView)
  expect([other.find('select').exists(), other.find('#invited').exists()]).toEqual([false, false])
})

it('a code is drawn for a camera and written to be read out; without an address it says that tablets need more', async () => {
  const made = { code: 'ABCDE23456', expiresAt: day, addresses: ['https://quay.lan:8420'] }
  const page = mount(OneTimeCode, { props: { made, whose: 'Finn' } })
  expect(page.text()).toContain('ABCDE 23456')
  expect(page.text()).toContain('https://quay.lan:8420')
  const path = page.get('path').attributes('d')!
  // ISO/IEC 18004: three finder patterns, each a ring of 24 around a core of 9; the first one's corner stands after the quiet zone of four
  expect(path.startsWith('M4 4h1v1h-1z')).toBe(true)
  const side = Number(page.get('svg').attributes('viewBox')!.split(' ')[2])
  const dark = (x: number, y: number) => path.includes(`M${x} ${y}h1v1h-1z`)
  for (const [x, y] of [
    [4, 4],
    [side - 11, 4],
    [4, side - 11],
  ]) {
    for (let i = 0; i < 7; i++)
      expect([dark(x + i, y), dark(x, y + i), dark(x + 3, y + 3), dark(x + 1, y + 1)]).toEqual([true, true, true, false])
  }
  await page.setProps({ made: { ...made, addresses: [] } })
  expect(page.text()).toContain('npm run certificate')
})

it('over everything while signed out: a wrong secret is said in words, a right one lets in', async () => {
  useMe().lost()
  answers['POST /sign-in'] = { status: 401, body: { code: 'SIGN_IN_FAILED', detail: 'Name and secret do not belong together.' } }
  const { page } = await shown(SignInSheet)
  await page.get('#sign-name').setValue('Ada')
  await page.get('#sign-secret').setValue('wrong')
  await page.get('form').trigger('submit')
  await flushPromises()
  expect(page.get('[role=alert]').text()).toBe('Name and secret do not belong together.')
  answers['POST /sign-in'] = { body: signedIn('Ada') }
  await page.get('form').trigger('submit')
  await flushPromises()
  expect(page.find('[role=dialog]').exists()).toBe(false)
  expect(useMe().signer).toEqual({ id: 'id-of-Ada', name: 'Ada' })
})

it('a code in the address is used at once; who came by an invitation chooses a secret before anything else', async () => {
  useMe().lost()
  answers['POST /sign-in/code'] = { body: { ...signedIn('Finn'), wantsSecret: true } }
  const { page, router } = await shown(SignInSheet, '/pair#ABCDE23456')
  expect(calls[0]).toMatchObject({ path: '/sign-in/code', body: { code: 'ABCDE23456' } })
  expect(router.currentRoute.value.fullPath).toBe('/')
  expect(page.text()).toContain('Finn, choose your secret')
  answers['POST /me/secret'] = { body: signedIn('Finn') }
  await page.get('#fresh-secret').setValue('winter barley at noon')
  await page.get('form').trigger('submit')
  await flushPromises()
  expect(calls.at(-1)).toMatchObject({ path: '/me/secret', body: { secret: 'winter barley at noon' } })
  expect(page.find('[role=dialog]').exists()).toBe(false)
})
