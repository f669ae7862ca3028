import { afterEach, describe, expect, it } from 'vitest'
import SavedProfiles from '@/features/bench/SavedProfiles.vue'
import { sameProfile, textsOf } from '@/features/bench/profile'
import { freshDraft } from '@/features/bench/setup'
import { pick, refusal, serve, settle, show } from './mounting'

afterEach(() => {
  serve({})
  localStorage.clear()
  document.body.innerHTML = ''
})

const ladder = {
  id: 3,
  version: 2,
  name: 'Ladder',
  purpose: 'figures for comparison',
  profile: { kind: 'steps', levels_pct: [25, 50], dwell_s: 4, ramp_pct_per_s: 40, rest_s: 3 },
  made_by_name: 'Ilse',
  made_at: '2026-11-27T10:00:00Z',
} as const
const AT = '/api/v1/bench/profiles/'
const open = (answers = {}, props = {}) => {
  const asked = serve({ [`GET ${AT}`]: [ladder], ...answers })
  return show(SavedProfiles, {
    props: { modelValue: freshDraft(), disabled: false, ...props },
  }).then((shown) => ({ ...shown, asked }))
}

describe('profiles kept by name', () => {
  it('reads a kept profile as it would have been typed, and knows it again', () => {
    expect(textsOf(ladder.profile as never)).toEqual({
      levels_pct: '25 50',
      dwell_s: '4',
      ramp_pct_per_s: '40',
      rest_s: '3',
    })
    const typed = { kind: 'steps', levels_pct: [25, 50], dwell_s: 4, ramp_pct_per_s: 40, rest_s: 3 }
    expect(sameProfile(ladder.profile as never, typed as never)).toBe(true)
    expect(sameProfile(ladder.profile as never, { ...typed, dwell_s: 5 } as never)).toBe(false)
    expect(sameProfile(ladder.profile as never, { ...typed, kind: 'peak' } as never)).toBe(false)
    expect(sameProfile(ladder.profile as never, null)).toBe(false)
  })

  it('sets one up, whatever the kind in hand', async () => {
    const { page } = await open({}, { modelValue: { ...freshDraft(), kind: 'hold' } })
    await settle()
    await pick(page, '#saved-profile', 'Ladder (steps)')
    const sent = page.findComponent(SavedProfiles).emitted('update:modelValue')?.at(-1)?.[0]
    expect(sent).toMatchObject({ kind: 'steps', values: { steps: { levels_pct: '25 50' } } })
  })

  it('keeps what is typed under a name, and says when the name is taken', async () => {
    const { page, asked } = await open({
      [`POST ${AT}`]: refusal(409, 'Taken.', { fields: { name: ['There is one already.'] } }),
    })
    await settle()
    await page.findAll('button').at(-1)?.trigger('click')
    const [name, purpose] = page.findAll('.keep input')
    await name?.setValue('Ladder')
    await purpose?.setValue('comparison')
    await page.get('.keep button').trigger('click')
    await settle()
    const sent = asked.find((one) => one.method === 'POST')?.body as { profile: { kind: string } }
    expect(sent).toMatchObject({ name: 'Ladder', purpose: 'comparison' })
    expect(sent.profile.kind).toBe('steps')
    expect(page.get('[role=alert]').text()).toContain('There is one already')
    // What was typed stays.
    expect((page.get('.keep input').element as HTMLInputElement).value).toBe('Ladder')
  })

  it('drops the one that is set up, from the version that was read', async () => {
    const { page, asked } = await open(
      { [`DELETE ${AT}3/`]: null },
      {
        modelValue: {
          ...freshDraft(),
          values: { steps: textsOf(ladder.profile as never) },
        },
      },
    )
    await settle()
    expect(page.text()).toContain('For figures for comparison.')
    await page.get('.note button').trigger('click')
    await settle()
    expect(asked.find((one) => one.method === 'DELETE')?.query).toEqual({ version: '2' })
  })

  it('lets a reader look and nothing else', async () => {
    const { page } = await open({}, { disabled: true })
    await settle()
    expect(page.findAll('button')).toHaveLength(0)
  })
})
