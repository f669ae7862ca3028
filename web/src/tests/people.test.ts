/** People: oneself, and for an administrator everybody who may come in. */
import { describe, expect, it } from 'vitest'
import { madeUp } from '@/features/accounts/password'
import PeoplePage from '@/features/accounts/PeoplePage.vue'
import { alerts, ILSE, pick, refusal, serve, session, settle, show } from './mounting'

const LOGINS = [
  {
    handle: 'aa',
    own: true,
    since: '2026-11-28T08:00:00Z',
    seen: '2026-11-28T08:10:00Z',
    address: '127.0.0.1',
    browser: 'Here/1',
  },
  { handle: 'bb', own: false, since: null, seen: null, address: '', browser: '' },
]
const person = (id: number, changed: object = {}) => ({
  id,
  username: `user${id}`,
  full_name: `Person ${id}`,
  shown_name: `Person ${id}`,
  role: 'reviewer',
  version: 3,
  is_active: true,
  date_joined: '2026-01-01T08:00:00Z',
  last_login: null,
  second_factor: false,
  ...changed,
})
const BOSS = { ...ILSE, role: 'administrator' }
const answers = (changed: object = {}) => ({
  'GET /api/v1/session/': session(),
  'GET /api/v1/session/logins/': LOGINS,
  'GET /api/v1/session/second-factor/': { on: false, needed: false, codes_left: 0 },
  ...changed,
})
const asBoss = (changed: object = {}) =>
  answers({
    'GET /api/v1/session/': { user: BOSS, demo: false },
    'GET /api/v1/access-rule/': { second_factor_from: '', version: 1 },
    'GET /api/v1/users/': { count: 2, results: [person(1), person(2, { is_active: false })] },
    ...changed,
  })
type Page = Awaited<ReturnType<typeof show>>['page']
const press = async (page: Page, text: string, at = 0) => {
  const found = page.findAll('button').filter((one) => one.text() === text)[at]
  if (!found) throw new Error(`no button ${text}`)
  await found.trigger(found.attributes('type') === 'submit' ? 'submit' : 'click')
  await settle()
}

describe('a made-up password', () => {
  it('is four groups of signs that nobody confuses, never twice the same', () => {
    const made = Array.from({ length: 200 }, () => madeUp())
    for (const one of made) expect(one).toMatch(/^[a-hjkmnp-z2-9]{4}(-[a-hjkmnp-z2-9]{4}){3}$/)
    expect(new Set(made).size).toBe(200)
  })

  it('leaves out bytes that would make some signs likelier', () => {
    let calls = 0
    const random = (bytes: Uint8Array) => bytes.fill(calls++ ? 0 : 255)
    expect(madeUp(random)).toBe('aaaa-aaaa-aaaa-aaaa')
    expect(calls).toBe(2)
  })
})

describe('oneself', () => {
  it('changes the password once both new ones are the same', async () => {
    const asked = serve(answers({ 'POST /api/v1/session/password/': {} }))
    const { page } = await show(PeoplePage)
    expect(page.text()).not.toContain('Who may come in')
    const [current, first, second] = page.findAll('form.password input[type="password"]')
    await current?.setValue('the old one 1')
    await first?.setValue('the new one 1')
    await second?.setValue('the new one 2')
    expect(page.text()).toContain('The two are not the same.')
    const button = page.findAll('button').find((one) => one.text() === 'Change it')
    expect(button?.attributes('disabled')).toBeDefined()
    await second?.setValue('the new one 1')
    await press(page, 'Change it')
    expect(asked.find((one) => one.method === 'POST')?.body).toEqual({
      current: 'the old one 1',
      password: 'the new one 1',
    })
    expect(page.text()).toContain('you are out')
    expect((current?.element as HTMLInputElement).value).toBe('')
  })

  it('reads beside the field what is wrong, and keeps what was typed', async () => {
    const wrong = refusal(400, 'Refused.', {
      fields: { current: ['This is not your password.'] },
    })
    serve(answers({ 'POST /api/v1/session/password/': wrong }))
    const { page } = await show(PeoplePage)
    for (const one of page.findAll('input[type="password"]'))
      await one.setValue('ten signs and more')
    await press(page, 'Change it')
    expect(page.text()).toContain('This is not your password.')
    expect((page.find('input[type="password"]').element as HTMLInputElement).value).not.toBe('')
  })

  it('sees where it is logged in, and ends it elsewhere', async () => {
    const asked = serve(answers({ 'DELETE /api/v1/session/logins/bb/': {} }))
    const { page } = await show(PeoplePage)
    const rows = page.findAll('tbody tr').map((one) => one.text())
    expect(rows[0]).toContain('here')
    expect(rows[1]).toContain('not noted')
    await press(page, 'Log out there')
    expect(asked.some((one) => one.method === 'DELETE')).toBe(true)
  })
})

describe('everybody', () => {
  it('is let in with a password that is told once', async () => {
    const asked = serve(asBoss({ 'POST /api/v1/users/': person(9, { shown_name: 'Mira' }) }))
    const { page } = await show(PeoplePage)
    const fields = page.findAll('form[aria-label="Let somebody in"] input')
    await fields[0]?.setValue('Mira')
    await fields[1]?.setValue(' mira ')
    await press(page, 'Let in')
    const sent = asked.find((one) => one.method === 'POST')?.body as Record<string, string>
    expect(sent).toMatchObject({ username: 'mira', full_name: 'Mira', role: 'reviewer' })
    expect(page.text()).toContain(`The password of Mira is ${sent.password}`)
    expect(page.text()).not.toContain('logged out everywhere')
  })

  it('gets another role, and is let in no longer or again, from the version that was read', async () => {
    const asked = serve(
      asBoss({ 'PATCH /api/v1/users/1/': person(1), 'PATCH /api/v1/users/2/': person(2) }),
    )
    const { page } = await show(PeoplePage)
    await pick(page, '[aria-label="What Person 1 may"]', 'Editor')
    await press(page, 'Let in no longer')
    await press(page, 'Let in again')
    const sent = asked.filter((one) => one.method === 'PATCH').map((one) => one.body)
    expect(sent).toEqual([
      { version: 3, role: 'editor' },
      { version: 3, is_active: false },
      { version: 3, is_active: true },
    ])
    expect(page.text()).toContain('let in no longer')
  })

  it('always includes somebody who administers', async () => {
    const last = refusal(409, 'The last administrator keeps that role.')
    serve(asBoss({ 'PATCH /api/v1/users/1/': last }))
    const { page } = await show(PeoplePage)
    await press(page, 'Let in no longer')
    expect(alerts(page)).toContain('The last administrator keeps that role.')
  })

  it('has done what the histories say', async () => {
    const deed = { at: '2026-11-01T09:00:00Z', kind: 'added', what: 'motor model', which: 'Pale' }
    serve(asBoss({ 'GET /api/v1/users/1/deeds/': [deed] }))
    const { page } = await show(PeoplePage)
    await press(page, 'What they did')
    expect(page.text()).toContain('added motor model: Pale')
    await press(page, 'What they did')
    expect(page.text()).not.toContain('Pale')
  })
})
