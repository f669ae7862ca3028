/** Sequences of profiles: taken part by part, made of what is kept, dropped. */
import { afterEach, describe, expect, it } from 'vitest'
import { reactive } from 'vue'
import SequencePanel from '@/features/bench/SequencePanel.vue'
import { type BenchDraft, freshDraft } from '@/features/bench/setup'
import { alerts, press, refusal, serve, settle, show } from './mounting'

const open: { unmount: () => void }[] = []
afterEach(() => {
  open.splice(0).forEach((page) => page.unmount())
  serve({})
  document.body.innerHTML = ''
})

const ladder = { kind: 'steps', levels_pct: [20, 60], dwell_s: 3, ramp_pct_per_s: 40, rest_s: 3 }
const check = { kind: 'direction', level_pct: 10, turn_s: 2, rest_s: 3 }
const saved = (id: number, name: string, profile: object) => ({
  id,
  version: 1,
  name,
  purpose: '',
  profile,
  made_by_name: 'Ilse',
  made_at: '2026-10-05T08:00:00Z',
})
const morning = {
  id: 4,
  version: 2,
  name: 'A morning',
  purpose: 'first look',
  parts: [check, ladder],
  made_by_name: 'Ilse',
  made_at: '2026-10-05T08:00:00Z',
}

async function panel(changed: Record<string, unknown> = {}, props: object = {}) {
  const asked = serve({
    'GET /api/v1/bench/sequences/': [morning],
    'GET /api/v1/bench/profiles/': [saved(1, 'Ladder', ladder), saved(2, 'Which way', check)],
    'POST /api/v1/bench/sequences/': morning,
    'DELETE /api/v1/bench/sequences/4/': {},
    ...changed,
  })
  const state = reactive({ draft: freshDraft() })
  const { page } = await show(SequencePanel, {
    props: {
      modelValue: state.draft,
      disabled: false,
      'onUpdate:modelValue': async (now: BenchDraft) => {
        state.draft = now
        await page.setProps({ modelValue: now })
      },
      ...props,
    },
  })
  open.push(page)
  await settle()
  return { page, asked, draft: () => state.draft }
}
const key = (name: string, from: EventTarget = document.body) =>
  from.dispatchEvent(new KeyboardEvent('keydown', { key: name, bubbles: true }))

describe('a sequence', () => {
  const begun = () => ({ ...freshDraft(), sequence: { id: 4, at: 0 } })

  it('sets up its parts one after the other by M, and stops at the last', async () => {
    const { page, draft } = await panel({}, { modelValue: begun() })
    expect(page.findAll('li').map((one) => one.text())).toEqual(['Which waychanged', 'Ladder'])
    key('m')
    await settle()
    expect([draft().kind, draft().sequence]).toEqual(['steps', { id: 4, at: 1 }])
    expect(draft().values.steps).toMatchObject({ levels_pct: '20 60', dwell_s: '3' })
    expect(page.get('li.now').text()).toBe('Ladder')
    key('m')
    await settle()
    expect(draft().sequence).toEqual({ id: 4, at: 1 })
    expect(page.text()).not.toContain('Next part')
  })

  it('goes back to a part that is pressed, and says where a number was changed', async () => {
    const { page, draft } = await panel({}, { modelValue: begun() })
    await press(page, 'Ladder')
    expect(draft().sequence?.at).toBe(1)
    await press(page, 'Which way')
    expect([draft().kind, draft().sequence?.at]).toEqual(['direction', 0])
    expect(page.text()).not.toContain('changed')
  })

  it('does not move on while somebody types, nor for who may not run anything', async () => {
    const { draft } = await panel({}, { modelValue: begun() })
    const field = document.createElement('input')
    document.body.append(field)
    key('m', field)
    await settle()
    expect(draft().sequence).toBeNull()
    open.splice(0).forEach((page) => page.unmount())
    const watching = await panel({}, { modelValue: begun(), disabled: true })
    key('m')
    await settle()
    expect(watching.draft().sequence).toBeNull()
  })

  it('is dropped from the version that was read', async () => {
    const { page, asked, draft } = await panel({}, { modelValue: begun() })
    await press(page, 'Drop')
    const dropped = asked.find((one) => one.method === 'DELETE')
    expect([dropped?.path, dropped?.query]).toEqual([
      '/api/v1/bench/sequences/4/',
      { version: '2' },
    ])
    expect(draft().sequence).toBeNull()
  })

  it('that somebody dropped meanwhile is none any more', async () => {
    const { page } = await panel({ 'GET /api/v1/bench/sequences/': [] }, { modelValue: begun() })
    expect(page.find('ol').exists()).toBe(false)
    expect(page.text()).toContain('Make a sequence of saved profiles')
  })

  it('says beside its field why it cannot be kept, and keeps what was typed', async () => {
    const { page } = await panel({
      'GET /api/v1/bench/sequences/': [],
      'POST /api/v1/bench/sequences/': refusal(400, 'No.', {
        fields: { name: ['There is a sequence named A morning already.'] },
      }),
    })
    await press(page, 'Make a sequence')
    const keep = () => page.findAll('button').find((one) => one.text() === 'Keep the sequence')
    expect(keep()?.attributes('disabled')).toBeDefined()
    page.findComponent({ name: 'ElSelect' }).vm.$emit('update:modelValue', [2, 1])
    const [name] = page.findAll('input').filter((one) => one.attributes('role') !== 'combobox')
    await name?.setValue('A morning')
    await keep()?.trigger('click')
    await settle()
    expect(alerts(page).join()).toContain('named A morning already')
    expect((name?.element as HTMLInputElement).value).toBe('A morning')
  })
})
