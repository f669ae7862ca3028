/** The second factor: set up, told once, asked at the login, needed by rule. */
import { describe, expect, it } from 'vitest'
import AccessRule from '@/features/accounts/AccessRule.vue'
import CodePicture from '@/features/accounts/CodePicture.vue'
import LoginPage from '@/features/accounts/LoginPage.vue'
import PeoplePage from '@/features/accounts/PeoplePage.vue'
import SecondFactor from '@/features/accounts/SecondFactor.vue'
import { alerts, pick, refusal, serve, session, settle, show } from './mounting'

const OWN = 'GET /api/v1/session/second-factor/'
const BEGIN = 'POST /api/v1/session/second-factor/'
const own = (changed: object = {}) => ({ on: false, needed: false, codes_left: 0, ...changed })
type Page = Awaited<ReturnType<typeof show>>['page']
const press = async (page: Page, text: string) => {
  const found = page.findAll('button').find((one) => one.text() === text)
  if (!found) throw new Error(`no button ${text}`)
  await found.trigger(found.attributes('type') === 'submit' ? 'submit' : 'click')
  await settle()
}
const names = (page: Page) => page.findAll('button').map((one) => one.text())

describe('one’s own', () => {
  it('is set up with the password, a picture and six digits; codes are told once', async () => {
    let on = false
    const asked = serve({
      [OWN]: () => own({ on, codes_left: on ? 10 : 0 }),
      [BEGIN]: { secret: 'ABCD', address: 'otpauth://x', picture: ['101', '010', '111'] },
      'POST /api/v1/session/second-factor/confirmed/': () => {
        on = true
        return { codes: ['aaaaa-bbbbb', 'ccccc-ddddd'] }
      },
    })
    const { page } = await show(SecondFactor)
    expect(page.text()).toContain('None.')
    await page.get('input[type=password]').setValue('my own password')
    await press(page, 'Set one up')
    expect(page.text()).toContain('ABCD')
    expect(page.find('svg.code').exists()).toBe(true)
    expect(page.find('input[type=password]').exists()).toBe(false)
    await page.get('#second-code').setValue('123456')
    await press(page, 'Confirm')
    expect(page.text()).toContain('aaaaa-bbbbb')
    expect(page.text()).toContain('10 codes on paper')
    expect(asked.filter((one) => one.method === 'POST').map((one) => one.body)).toEqual([
      { password: 'my own password' },
      { code: '123456' },
    ])
  })

  it('says beside its field what is wrong', async () => {
    serve({
      [OWN]: own(),
      [BEGIN]: refusal(400, 'Refused.', { fields: { password: ['This is not your password.'] } }),
    })
    const { page } = await show(SecondFactor)
    await page.get('input[type=password]').setValue('another')
    await press(page, 'Set one up')
    expect(page.text()).toContain('This is not your password.')
    expect(alerts(page).join()).not.toContain('Refused.')
  })

  it('has other codes, and is ended where the rule allows it', async () => {
    const asked = serve({
      [OWN]: own({ on: true, codes_left: 2 }),
      'POST /api/v1/session/second-factor/codes/': { codes: ['eeeee-fffff'] },
      'POST /api/v1/session/second-factor/ended/': {},
    })
    const { page } = await show(SecondFactor)
    await page.get('input[type=password]').setValue('my own password')
    await press(page, 'Other codes for paper')
    expect(page.text()).toContain('eeeee-fffff')
    await page.get('input[type=password]').setValue('my own password')
    await press(page, 'End it')
    expect(asked.filter((one) => one.path.endsWith('/ended/'))).toHaveLength(1)
    expect(page.text()).not.toContain('eeeee-fffff')
  })

  it('is not ended where it is needed, and is asked for before anything else', async () => {
    serve({ [OWN]: own({ on: true, needed: true, codes_left: 1 }) })
    expect(names((await show(SecondFactor)).page)).not.toContain('End it')
    serve({
      [OWN]: own({ needed: true }),
      'GET /api/v1/session/': { ...session('administrator'), second_factor_due: true },
    })
    const { page } = await show(PeoplePage)
    expect(page.text()).toContain('Set it up to go on.')
    expect(page.text()).not.toContain('Who may come in')
    expect(page.text()).not.toContain('Where you are logged in')
  })
})

describe('its picture', () => {
  it('draws the dark ones, with four fields of quiet around', async () => {
    const { page } = await show(CodePicture, { props: { rows: ['10', '01'] } })
    expect(page.get('svg').attributes('viewBox')).toBe('0 0 10 10')
    expect(page.get('path').attributes('d')).toBe('M4 4h1v1h-1zM5 5h1v1h-1z')
  })
})

describe('the rule', () => {
  it('is changed from the version that was read, and goes back where it is refused', async () => {
    const asked = serve({
      'GET /api/v1/access-rule/': { second_factor_from: '', version: 4 },
      'PATCH /api/v1/access-rule/': refusal(409, 'Set up your own second factor first.'),
    })
    const { page } = await show(AccessRule)
    await pick(page, '#second-rule', 'of editors and administrators')
    await settle()
    expect(asked.find((one) => one.method === 'PATCH')?.body).toEqual({
      second_factor_from: 'editor',
      version: 4,
    })
    expect(alerts(page).join()).toContain('Set up your own')
    expect(page.text()).toContain('of nobody')
  })
})

describe('the login', () => {
  const enter = async (answer: (body: Record<string, string>) => unknown) => {
    const asked = serve({
      'GET /api/v1/session/': { user: null, demo: false, second_factor_due: false },
      'POST /api/v1/session/': answer as (body: unknown) => unknown,
    })
    const { page } = await show(LoginPage)
    await page.get('#username').setValue('ilse')
    await page.get('#password').setValue('my own password')
    await page.get('form').trigger('submit')
    await settle()
    return { page, asked }
  }
  const codeAsked = refusal(403, 'Give the six digits.', { code: 'second_factor' })

  it('asks for the code once the password is right, and keeps the password for it', async () => {
    const { page, asked } = await enter((body) => (body.code ? session() : codeAsked))
    expect(alerts(page)).toEqual([])
    await page.get('#code').setValue('123 456')
    await page.get('form').trigger('submit')
    await settle()
    expect(asked.at(-1)?.body).toEqual({
      username: 'ilse',
      password: 'my own password',
      code: '123 456',
    })
  })

  it('empties a wrong code and nothing else', async () => {
    const wrong = refusal(403, 'That code does not match.', { code: 'wrong_code' })
    const { page } = await enter((body) => (body.code ? wrong : codeAsked))
    await page.get('#code').setValue('000000')
    await page.get('form').trigger('submit')
    await settle()
    expect(alerts(page)).toContain('That code does not match.')
    expect((page.get('#code').element as HTMLInputElement).value).toBe('')
    expect((page.get('#password').element as HTMLInputElement).value).toBe('my own password')
  })

  it('empties a wrong password and asks for no code', async () => {
    const { page } = await enter(() =>
      refusal(403, 'Name and password do not match.', { code: 'login_refused' }),
    )
    expect((page.get('#password').element as HTMLInputElement).value).toBe('')
    expect(page.find('#code').exists()).toBe(false)
  })
})
