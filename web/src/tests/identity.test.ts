/** What a motor and its samples are, changed by two people, and the pages that bring it together. */
import { afterEach, describe, expect, it, vi } from 'vitest'
import BoardPage from '@/features/board/BoardPage.vue'
import IdentitySheet from '@/features/intake/IdentitySheet.vue'
import IntakePage from '@/features/intake/IntakePage.vue'
import LengthDeclared from '@/features/intake/LengthDeclared.vue'
import ParcelStep from '@/features/intake/ParcelStep.vue'
import PreparationForm from '@/features/intake/PreparationForm.vue'
import ExpectationList from '@/features/motor_file/ExpectationList.vue'
import HistorySheet from '@/features/motor_file/HistorySheet.vue'
import MotorPage from '@/features/motor_file/MotorPage.vue'
import PeerList from '@/features/motor_file/PeerList.vue'
import SampleSheet from '@/features/motor_file/SampleSheet.vue'
import MergeView from '@/merging/MergeView.vue'
import { aMotorFile, alerts, pick, refusal, serve, session, settle, show } from './mounting'

afterEach(() => {
  serve({})
  localStorage.clear()
  document.body.innerHTML = ''
})

const base = {
  'GET /api/v1/session/': session(),
  'GET /api/v1/motors/3/': aMotorFile(),
  'GET /api/v1/teardown/vocabulary/': {
    version: 3,
    steps: [],
    outside_step: 'Outside',
    attributes: [],
  },
  'GET /api/v1/samples/7/teardown/': { observations: [], findings: [], not_applicable: [] },
  'GET /api/v1/samples/8/teardown/': { observations: [], findings: [], not_applicable: [] },
  'GET /api/v1/samples/7/photos/': [],
  'GET /api/v1/samples/8/photos/': [],
  'GET /api/v1/runs/': { results: [] },
}
type Asked = { method: string; path: string; body: unknown }[]
const sent = (asked: Asked, method: string) =>
  asked.filter((a) => a.method === method).map((a) => a.body as Record<string, unknown>)
type Page = Awaited<ReturnType<typeof show>>['page']
const button = (page: Page, text: string) => page.findAll('button').find((b) => b.text() === text)

describe('what the motor is', () => {
  it('is changed from the version that was read', async () => {
    const asked = serve({ ...base, 'PATCH /api/v1/motors/3/': { version: 3 } })
    const { page } = await show(IdentitySheet, { props: { file: aMotorFile() } })
    expect(button(page, 'Keep the change')).toBeUndefined()
    await page.get('#id-kv').setValue('')
    await pick(page, '#id-kind', 'Brushed can')
    await page.get('form').trigger('submit')
    await settle()
    expect(sent(asked, 'PATCH')[0]).toMatchObject({
      version: 2,
      kind: 'brushed',
      kv_label_rpm_per_v: null,
      name: 'Drift',
    })
  })

  it('says a doubt about the code beside it', async () => {
    serve(base)
    const size = { ...aMotorFile().size, doubt: 'the code may measure the outer can.' }
    const { page } = await show(IdentitySheet, { props: { file: aMotorFile({ size }) } })
    expect(page.get('.doubt').text()).toContain('outer can')
  })

  it('is only shown to a reader', async () => {
    serve({ ...base, 'GET /api/v1/session/': session('reader') })
    const { page } = await show(IdentitySheet, { props: { file: aMotorFile() } })
    expect(page.findAll('input, select').every((f) => 'disabled' in f.attributes())).toBe(true)
    expect(page.text()).not.toContain('Add sample')
  })

  it('keeps a sample when its field is left, and merges when somebody else wrote', async () => {
    const current = {
      version: 4,
      who: 'Tomas',
      at: null,
      values: { mark: 'A', turning: 'ccw', parcel: 21, note: '' },
    }
    const answer = refusal(409, 'x', { code: 'changed_meanwhile', current })
    serve({ ...base, 'PATCH /api/v1/samples/7/': answer })
    const { page } = await show(IdentitySheet, { props: { file: aMotorFile() } })
    const note = page.findAll('[aria-label=Note]')[0]
    await note?.setValue('scratched bell')
    await note?.trigger('change')
    await settle()
    const rows = page.findAll('.merge tbody tr').map((row) => row.text())
    expect(rows.some((row) => row.includes('turning') && row.includes('ccw'))).toBe(true)
    const asked = serve({ ...base, 'PATCH /api/v1/samples/7/': { version: 5 } })
    await button(page, 'Keep these')?.trigger('click')
    await settle()
    expect(sent(asked, 'PATCH')[0]).toMatchObject({
      version: 4,
      note: 'scratched bell',
      turning: 'ccw',
    })
    expect(page.find('.merge').exists()).toBe(false)
  })
})

describe('two versions of one fact', () => {
  const props = {
    base: { note: '', price_amount: '20' },
    mine: { note: 'mine', price_amount: '20' },
    current: { version: 9, who: 'Tomas', at: null, values: { note: 'theirs', price_amount: '22' } },
  }

  it('wait for a choice where both wrote, and name what is still open', async () => {
    const { page } = await show(MergeView, { props })
    expect(page.text()).toContain('1 to choose')
    expect(button(page, 'Keep these')?.attributes('disabled')).toBeDefined()
    await page.get('input[name=merge-note][value=theirs]').setValue(true)
    await button(page, 'Keep these')?.trigger('click')
    expect(page.emitted('settle')?.[0]).toEqual([{ note: 'theirs', price_amount: '22' }, 9])
  })

  it('can be left as the other wrote them', async () => {
    const { page } = await show(MergeView, { props })
    await button(page, 'Drop mine')?.trigger('click')
    expect(page.emitted('drop')).toHaveLength(1)
  })
})

describe('taking a motor in', () => {
  const answers = {
    ...base,
    'GET /api/v1/motors/': { count: 130, next: 'x', results: [] },
    'GET /api/v1/size-code/': {
      text: '8x20',
      basis: 'case',
      diameter_mm: 8,
      height_mm: 20,
      aspect: 2.5,
      stator_volume_mm3: null,
      absent_reason: 'the size code measures the case',
      doubt: '',
    },
    'POST /api/v1/motors/': { id: 11 },
  }

  it('records a brushed can without a kV, and says why it has no volume', async () => {
    const asked = serve(answers)
    const { page } = await show(IntakePage)
    await pick(page, '#kind', 'Brushed can')
    await page.get('#maker').setValue('Tarnwick')
    await page.get('#name').setValue('Midge')
    await page.get('#size').setValue('8x20')
    await vi.waitFor(() => expect(page.text()).toContain('the size code measures the case'))
    await page.get('form').trigger('submit')
    await settle()
    expect(sent(asked, 'POST')[0]).toMatchObject({ kind: 'brushed', kv_label_rpm_per_v: null })
  })

  it.each(['19oo', '1900 kV', '1.9.0'])(
    'does not take %s for a motor without a kV',
    async (text) => {
      const asked = serve(answers)
      const { page } = await show(IntakePage)
      await page.get('#maker').setValue('Tarnwick')
      await page.get('#name').setValue('Midge')
      await page.get('#size').setValue('8x20')
      await page.get('#kv').setValue(text)
      await vi.waitFor(() => expect(page.text()).toContain('the size code measures the case'))
      expect(page.text()).toContain('is no number')
      expect(button(page, 'Take it in')?.attributes('disabled')).toBeDefined()
      expect(page.text()).not.toContain('No kV is printed on it')
      await page.get('form').trigger('submit')
      await settle()
      expect(sent(asked, 'POST')).toEqual([])
    },
  )

  it.each([
    ['1,900', 1900],
    ['1 900', 1900],
    ['1900,5', 1900.5],
  ])('reads %s as it was meant', async (text, kv) => {
    const asked = serve(answers)
    const { page } = await show(IntakePage)
    await page.get('#maker').setValue('Tarnwick')
    await page.get('#name').setValue('Midge')
    await page.get('#size').setValue('8x20')
    await page.get('#kv').setValue(text)
    await vi.waitFor(() =>
      expect(button(page, 'Take it in')?.attributes('disabled')).toBeUndefined(),
    )
    await page.get('form').trigger('submit')
    await settle()
    expect(sent(asked, 'POST')[0]).toMatchObject({ kv_label_rpm_per_v: kv })
  })

  it('asks about an outrunner without a kV label, once', async () => {
    serve(answers)
    const { page } = await show(IntakePage)
    await page.get('#maker').setValue('Tarnwick')
    await page.get('#name').setValue('Midge')
    await page.get('#size').setValue('8x20')
    await vi.waitFor(() => expect(page.text()).toContain('No kV is printed on it'))
    const submit = () => button(page, 'Take it in')?.attributes('disabled')
    expect(submit()).toBeDefined()
    await page.get('.meant input').setValue(true)
    expect(submit()).toBeUndefined()
  })

  it('finds a motor among many, page by page', async () => {
    const asked = serve(answers)
    const { page } = await show(IntakePage)
    const pages = () => page.findAll('.el-pager li').map((one) => one.text())
    expect(pages()).toEqual(['1', '2', '3'])
    await page.findAll('.el-pager li')[1]?.trigger('click')
    await settle()
    expect(asked.at(-1)?.query).toMatchObject({ page: '2' })
    await page.get('[aria-label=Find]').setValue('sable')
    await vi.waitFor(() => expect(page.text()).toContain('No motor fits.'))
    expect(asked.filter((a) => a.path === '/api/v1/motors/').length).toBeGreaterThan(2)
  })
})

describe('small forms of intake', () => {
  it('declare the lead length for the whole bench', async () => {
    const asked = serve({
      ...base,
      'GET /api/v1/bench-declaration/': { lead_length_mm: 60, version: 4 },
      'PATCH /api/v1/bench-declaration/': {},
    })
    const { page } = await show(LengthDeclared, { props: { length: 60 } })
    await page.get('button').trigger('click')
    await settle()
    await page.get('input').setValue('short')
    await page.get('form').trigger('submit')
    expect(page.get('[role=alert]').text()).toContain('A length in mm')
    await page.get('input').setValue('50')
    await page.get('form').trigger('submit')
    await settle()
    expect(sent(asked, 'PATCH')[0]).toEqual({ lead_length_mm: 50, version: 4 })
  })

  it('ask how long cut leads are now', async () => {
    const asked = serve({ ...base, 'POST /api/v1/samples/7/preparations/': {} })
    const { page } = await show(PreparationForm, { props: { sample: 7 } })
    await page.get('form').trigger('submit')
    await settle()
    expect(alerts(page).join()).toContain('How long are the leads now')
    await page.get('#p-leads').setValue('60')
    await page.get('form').trigger('submit')
    await settle()
    expect(sent(asked, 'POST')[0]).toEqual({ kind: 'leads_cut', lead_length_mm: 60, note: '' })
  })

  it('note one more parcel', async () => {
    const asked = serve({ ...base, 'POST /api/v1/motors/3/parcels/': {} })
    const { page } = await show(ParcelStep, { props: { file: aMotorFile() } })
    expect(page.text()).toContain('no price on record')
    expect(page.text()).toContain('8 needed, 0 in the box.')
    await button(page, 'Another parcel of this motor')?.trigger('click')
    await settle()
    expect(sent(asked, 'POST')).toEqual([{}])
  })
})

describe('the motor file', () => {
  it('brings it together, and shows each sample on demand', async () => {
    serve({
      ...base,
      'GET /api/v1/motors/3/performance/': { common_thrust_gf: null, propellers: [], heat: [] },
    })
    const { page } = await show(MotorPage, { path: '/motors/3', at: '/motors/:id' })
    expect(page.get('.open-points').text()).toContain('No sample was weighed.')
    expect(page.text()).toContain('from the teardown of sample A')
    expect(page.text()).toContain('No run with plateaus yet.')
    await page.findAll('.samples button')[1]?.trigger('click')
    await settle()
    expect(page.text()).toContain('from the teardown of sample B')
  })

  it('names a sample that is gone, and a guessed price as one', async () => {
    serve(base)
    const incident = {
      id: 1,
      sample: 8,
      mark: 'B',
      kind: 'other',
      label: 'Other',
      happened_on: '',
      destroyed: true,
      note: '',
      struck_reason: '',
    }
    const file = aMotorFile({ incidents: [incident] })
    Object.assign(file.parcels[0]?.price as object, {
      amount: 15.5,
      currency: 'EUR',
      basis: 'each',
      guessed: true,
    })
    const { page } = await show(SampleSheet, { props: { file } })
    const rows = page.findAll('tbody tr').map((row) => row.text())
    expect(rows[0]).not.toContain('destroyed')
    expect(rows[1]).toContain('destroyed')
    expect(page.get('.parcels').text()).toContain('~15.50')
    expect(page.get('.absent').attributes('data-reason')).toBe('not weighed')
  })

  it('holds expectations against the result, or keeps them in words', async () => {
    const figure = (value: number | null) => ({
      value,
      u: null,
      n: 1,
      origin: 'measured',
      reason: 'no run measured thrust',
    })
    const held = {
      quantity: 'x',
      label: 'Highest thrust',
      unit: 'gf',
      said: 1250,
      source: 'expected',
      measured: figure(1135),
      measured_from: '',
      deviation_pct: figure(-9.2),
      resolved: true,
      reached_pct: figure(null),
    }
    const row = (id: number, rest: object) => ({
      id,
      text: '',
      noted_at: '2026-10-01T09:00:00Z',
      who: 'Ilse',
      held_against: null,
      ...rest,
    })
    const { page } = await show(ExpectationList, {
      props: { expectations: [row(1, { held_against: held }), row(2, { text: 'Smooth.' })] },
    })
    const items = page.findAll('li').map((li) => li.text())
    expect(items[0]).toContain('1,250gf expected')
    expect(items[0]).toContain('−9.2')
    expect(items[1]).toContain('“Smooth.”')
  })

  it('says what peers are near in', async () => {
    const peer = {
      motor: 5,
      full_name: 'Brackwater No. 4',
      distance: 0.4,
      compared: ['kv_rpm_per_v', 'price'],
      traits: { kv_rpm_per_v: 1800, mass_g: 34.9 },
      mass_weighed: true,
    }
    const { page } = await show(PeerList, { props: { peers: [peer] } })
    expect(page.text()).toContain('kV label, price')
    expect(page.findAll('.absent').length).toBe(1)
    expect(page.get('tbody').text()).toContain('weighed')
    const claimed = { ...peer, mass_weighed: false }
    const other = await show(PeerList, { props: { peers: [claimed] } })
    expect(other.page.get('td.claim').text()).toContain('claimed')
  })

  it('shows who changed what, without the count of versions', async () => {
    const change = {
      what: 'parcel',
      at: '2026-10-01T09:00:00Z',
      who: 'Ilse',
      kind: 'changed',
      changed: [
        { field: 'note', before: '', after: 'dented' },
        { field: 'version', before: '1', after: '2' },
      ],
    }
    const { page } = await show(HistorySheet, { props: { changes: [change] } })
    expect(page.text()).toContain('note: — → dented')
    expect(page.text()).not.toContain('version')
  })
})

describe('the board of a large bench', () => {
  const motor = {
    id: 3,
    full_name: 'Ostrel Drift',
    samples: 2,
    claims: 1,
    observations: 3,
    runs: 0,
    most_repeats: 0,
    gaps: ['No sample was weighed'],
    next_station: 'intake',
    next_act: 'Write down what the maker claims',
    urgency: 1,
  }
  const answer = {
    motors: [motor],
    motor_count: 2000,
    in_hand: null,
    unreviewed: [],
    unreviewed_count: 0,
    later: [],
    later_count: 0,
    attribute_count: 80,
    bench_day: null,
  }

  it('shows the most urgent and finds the others by name', async () => {
    serve({ ...base, 'GET /api/v1/board/': answer })
    const { page } = await show(BoardPage)
    expect(page.text()).toContain('1 of 2000')
    serve({ ...base, 'GET /api/v1/board/': { ...answer, motors: [], motor_count: 0 } })
    await page.get('.find input').setValue('nothing of the kind')
    await vi.waitFor(() => expect(page.text()).toContain('No motor fits.'))
    expect(page.text()).not.toContain('The bench is empty')
  })
})
