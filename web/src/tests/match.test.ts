import { describe, expect, it } from 'vitest'
import type { Schemas } from '@/api/client'
import CandidateTable from '@/features/match/CandidateTable.vue'
import CloserLook from '@/features/match/CloserLook.vue'
import { bodyOf, draftOf, massOf, newDraft, packsOf, takePack } from '@/features/match/craft'
import CraftForm from '@/features/match/CraftForm.vue'
import MatchPage from '@/features/match/MatchPage.vue'
import { inChart, matchOption, matchTable } from '@/features/match/matchOption'
import { escWords } from '@/features/match/words'
import { pick, refusal, serve, session, settle, show } from './mounting'

const figure = (value: number | null, reason = 'not measured') => ({
  value,
  u: value === null ? null : Math.abs(value) / 40,
  n: 1,
  origin: 'measured',
  reason: value === null ? reason : '',
  assumed: false,
})
const candidate = (motor: number, more: Partial<Schemas['Matched']> = {}): Schemas['Matched'] => ({
  name: `Motor ${motor}, Prop 5x3x2`,
  motor,
  motor_name: `Motor ${motor}`,
  short: `M${motor}, 5x3x2`,
  propeller: 4,
  propeller_name: 'Prop 5x3x2',
  predicted: false,
  runs: 3,
  samples: 2,
  load: '16 V bench supply',
  up_to_pct: 100,
  mass_g: figure(590),
  thrust_to_weight: figure(8),
  hover_thrust_gf: figure(147.5),
  throttle_pct: figure(30.5),
  current_a: figure(1.2),
  power_w: figure(19),
  efficiency_g_per_w: figure(7.6),
  minutes: figure(14.2),
  max_thrust_gf: figure(1180),
  peak_current_a: figure(38.6),
  pack_current_a: figure(154.4),
  esc: [
    { margin: 1, needed_a: 38.6, size_a: 40, note: '' },
    { margin: 1.2, needed_a: 46.3, size_a: 50, note: '' },
  ],
  pack: { c_rate: figure(103), least_capacity_mah: figure(1625) },
  tip_mach: figure(0.55),
  pitch_speed_m_per_s: figure(41),
  tip_fast: false,
  arm_inertia_kg_mm2: figure(1268),
  margin_hover_k: figure(110),
  margin_full_k: figure(-12),
  apart: { thrust_to_weight: 0.1, minutes: 0.2 },
  on_frontier: true,
  picked: [],
  barred: '',
  cautions: [],
  window: 'within',
  ...more,
})
const pack = (more: Partial<Schemas['Supply']> = {}): Schemas['Supply'] => ({
  id: 8,
  name: 'Pack 4-3',
  kind: 'pack',
  assumed_ohm: null,
  assumed_words: '',
  limit_a: null,
  cells: 4,
  capacity_mah: 1500,
  rate_c: 95,
  packs: [],
  limited_by: '',
  floor_v: 13.2,
  ...more,
})
const craft: Schemas['Craft'] = {
  id: 5,
  version: 2,
  name: 'Five-inch',
  layout: 'multirotor',
  motors: 4,
  cells: 4,
  use: 'freestyle',
  items: [{ name: 'frame', mass_g: 142, count: 1, basis: 'weighed', half_width_g: null }],
  capacity_mah: 1500,
  rated_c: 95,
  usable_pct: 80,
  propeller_room_in: 5.2,
  retired: false,
  made_by_name: 'Ilse Varga',
  made_at: '2026-11-02T10:00:00Z',
}
const found = (more: Partial<Schemas['CraftMatch']> = {}): Schemas['CraftMatch'] => ({
  supply: '16 V bench supply',
  least_thrust_to_weight: 6,
  rows: [
    candidate(1, { picked: ['strongest'] }),
    candidate(2, {
      predicted: true,
      picked: ['chosen'],
      runs: 0,
      samples: 0,
      cautions: ['full throttle takes 154 A, the pack is rated for 142 A'],
    }),
    candidate(3, { barred: '6.1 in, room for 5.2 in' }),
  ],
  more: 0,
  picks: {
    strongest: 'Motor 1, Prop 5x3x2',
    thriftiest: 'Motor 1, Prop 5x3x2',
    chosen: 'Motor 2, Prop 5x3x2',
    trade: '−7.0 ± 1.2 % thrust for −21 ± 2 % current, +1.4 ± 0.3 min',
    alike: {
      strongest: { names: ['Motor 7, Prop 5x3x2'], more: 0 },
      thriftiest: { names: [], more: 0 },
      chosen: { names: ['Motor 8, Prop 5x3x2', 'Motor 9, Prop 5x3x2'], more: 12 },
    },
  },
  no_pick: '',
  fell_out: [
    {
      reason: 'too large a propeller',
      count: 1,
      examples: ['Motor 3, Prop: 6.1 in, room for 5.2 in'],
    },
  ],
  upgrade: {
    now: 'Motor 1, Prop 5x3x2',
    why_not: '',
    changes: [
      {
        kind: 'new motor',
        name: 'Motor 2, Prop 5x3x2',
        mass_g: figure(-8),
        thrust_to_weight: figure(7.4),
        thrust_to_weight_was: figure(8),
        thrust_pct: figure(-7),
        peak_current_pct: figure(-21),
        minutes: figure(1.4),
        hover_current_pct: figure(-8),
        price: figure(87.6),
        currency: 'EUR',
        estimated: true,
        sentence: 'Motor 2, Prop 5x3x2: −7 % thrust; 4 motors cost 87.60 EUR.',
      },
    ],
  },
  remarks: ['Figures are static, at 16 V bench supply.'],
  ...more,
})
const closer = {
  name: 'Motor 2, Prop 5x3x2',
  other_cells: 6,
  said: [
    { topic: 'In flight', text: '22.5 to 25.5 A of 30.0 A.' },
    { topic: 'Best load', text: 'Best at 17.7 A (88 %) on 4 cells.' },
  ],
  suits: [
    {
      use: 'racing',
      least_thrust_to_weight: 8,
      lightest_g: figure(378),
      heaviest_g: figure(590),
      least_capacity_mah: figure(1625),
      rated_c: 95,
    },
  ],
}

describe('a craft as it is typed', () => {
  it('is sent with what nobody said as null, never as 0', () => {
    const draft = draftOf(craft)
    const { body, gaps } = bodyOf(draft)
    expect(gaps).toEqual([])
    expect(body).toMatchObject({
      motors: 4,
      propeller_room_in: 5.2,
      esc_rated_a: null,
      rated_c: 95,
    })
    expect(body?.items).toEqual([
      { name: 'frame', mass_g: 142, count: 1, basis: 'weighed', half_width_g: null },
    ])
  })

  it('is not sent while a number is none or an item lacks its mass', () => {
    const draft = draftOf(craft)
    draft.numbers.esc_rated_a = 'forty'
    draft.items.push({ name: 'camera', mass_g: '', count: '1', basis: 'omitted', half_width_g: '' })
    const { body, gaps } = bodyOf(draft)
    expect(body).toBeNull()
    expect(gaps.join(' ')).toContain('“forty” is no number')
    expect(gaps.join(' ')).toContain('camera: write a number')
  })

  it('drops rows that nobody filled, and a lower motor that is no longer one', () => {
    const draft = { ...draftOf(craft), lower_motor: 3, lower_propeller: 4 }
    draft.items.push({ name: '', mass_g: '', count: '1', basis: 'weighed', half_width_g: '' })
    expect(bodyOf(draft).body).toMatchObject({ lower_motor: null })
    expect(bodyOf(draft).body?.items).toHaveLength(1)
    expect(bodyOf({ ...draft, layout: 'coaxial' }).body).toMatchObject({ lower_motor: 3 })
  })

  it('is copied under another name, and adds its mass up', () => {
    const copy = draftOf(craft, true)
    expect(copy.name).toBe('Five-inch, changed')
    copy.items.push({ name: 'prop', mass_g: '4,2', count: '4', basis: 'weighed', half_width_g: '' })
    expect(massOf(copy)).toBeCloseTo(158.8)
    expect(massOf(newDraft())).toBeNull()
  })
})

describe('the chart', () => {
  const rows = [
    candidate(1),
    candidate(2, {
      predicted: true,
      on_frontier: false,
      apart: { thrust_to_weight: null, minutes: null },
    }),
    candidate(3, { minutes: figure(null) }),
    candidate(4, { barred: 'too heavy' }),
  ]
  it('draws what may be chosen and has both figures; hollow where predicted', () => {
    expect(inChart(rows).map((row) => row.motor)).toEqual([1, 2])
    const option = matchOption(rows, rows[0]?.name ?? null) as {
      series: { data: { itemStyle: { color: string; borderWidth: number } }[] }[]
    }
    expect(option.series[0]?.data.map((point) => point.itemStyle.color)).toEqual([
      expect.stringMatching(/^#/),
      'transparent',
    ])
    expect(option.series[0]?.data[0]?.itemStyle.borderWidth).toBe(3)
    // ±2u of what was run, and the line of who leads.
    expect(option.series[1]?.data).toMatchObject([
      { value: [14.2, 8, expect.closeTo(13.8), expect.closeTo(14.6), 7.8, 8.2] },
    ])
    expect(option.series[2]?.data).toHaveLength(1)
    expect(matchTable(rows).rows[1]?.slice(-2)).toEqual(['yes', 'no'])
  })

  it('draws its line along who leads, and names who is level with them', () => {
    const level = [
      candidate(1),
      candidate(2, { minutes: figure(14.1), thrust_to_weight: figure(7.9) }),
      candidate(3, { minutes: figure(16), thrust_to_weight: figure(6) }),
    ]
    const option = matchOption(level, null) as {
      series: { data: { label: { show: boolean } }[] }[]
      tooltip: { formatter: (one: unknown) => string }
    }
    expect(option.series[2]?.data).toEqual([
      [14.2, 8],
      [16, 6],
    ])
    expect(option.series[0]?.data.map((point) => point.label.show)).toEqual([true, true, true])
    expect(option.tooltip.formatter({ dataIndex: 2 })).toMatch(/6\.00 ± 0\.15, 16\.0 ± 0\.4/)
  })
})

it.each([
  [[40, 50], '40–50'],
  [[20, 20], '20'],
  [[null, null], '—'],
])('says the sizes %j of both schools as %s', (sizes, text) => {
  expect(escWords(sizes.map((size_a) => ({ margin: 1, needed_a: 1, size_a, note: '' })))).toBe(text)
})

describe('candidates', () => {
  it('show figures with u, what is predicted in italics, what fell out with its reason', async () => {
    serve({})
    const { page } = await show(CandidateTable, {
      props: { rows: found().rows, chosen: null, hasPack: true },
    })
    expect(page.text()).toContain('38.6')
    expect(page.text()).toContain('40–50')
    expect(page.text()).toContain('to choose')
    expect(page.text()).toContain('6.1 in, room for 5.2 in')
    expect(page.findAll('.figure.estimated').length).toBeGreaterThan(4)
    await page.findAll('button.name')[1]?.trigger('click')
    expect(page.emitted('choose')).toEqual([['Motor 2, Prop 5x3x2']])
  })
})

describe('the closer look', () => {
  it('tells every judgement of one combination, and asks for another battery', async () => {
    const asked = serve({ 'GET /api/v1/craft/5/closer/': () => closer })
    const { page } = await show(CloserLook, {
      props: {
        craft: 5,
        motors: 4,
        row: candidate(2, {
          window: 'heavy',
          tip_fast: true,
          barred: 'too hot',
          cautions: ['hot'],
        }),
      },
    })
    await settle()
    for (const words of [
      '1,180',
      '103',
      '1,630±40',
      'kg·mm²',
      'Pitch speed at full throttle41.0±1.0m/s',
      '22.5 to 25.5 A',
      'Best at 17.7 A',
      '~378±9 to 590±15',
      'heavier than anything',
      'expect noise',
      'Not to choose: too hot',
    ])
      expect(page.text(), words).toContain(words)
    await page.find('input').setValue('3')
    await settle()
    expect(asked.at(-1)?.query).toMatchObject({ motor: '2', propeller: '4', cells: '3' })
    await page.find('button').trigger('click')
    expect(page.emitted('setUp')).toHaveLength(1)
  })
})

describe('the page', () => {
  const answers = {
    'GET /api/v1/session/': session(),
    'GET /api/v1/craft/': [craft],
    'GET /api/v1/craft/5/match/': found(),
    'GET /api/v1/craft/5/closer/': closer,
  }
  it('chooses with the trade, says what to know of it, upgrades, and hides what fell out', async () => {
    serve(answers)
    const { page } = await show(MatchPage, { path: '/match' })
    await settle()
    const text = page.text()
    expect(text).toContain('Choose Motor 2, Prop 5x3x2')
    expect(text).toContain('−7.0 ± 1.2 % thrust for −21 ± 2 % current, +1.4 ± 0.3 min')
    expect(text).toContain(
      'Not told apart from it: Motor 8, Prop 5x3x2; Motor 9, Prop 5x3x2; 12 more.',
    )
    expect(text).toContain('as far as is told: Motor 7, Prop 5x3x2.')
    // Who is told to be thriftiest stands alone.
    expect(text).toMatch(/Thriftiest in hover: Motor 1, Prop 5x3x2\.(?!\s*Not told)/)
    expect(text).toContain('the pack is rated for 142 A')
    expect(text).toContain('4 motors cost 87.60 EUR')
    expect(text).toContain('1: too large a propeller')
    expect(page.findAll('button.name')).toHaveLength(2)
    expect(page.find('a[href="/api/v1/craft/5/match.pdf"]').exists()).toBe(true)
    await page.find('.table input[type="checkbox"]').setValue(true)
    expect(page.findAll('button.name')).toHaveLength(3)
  })

  it('says what a craft is where there is none', async () => {
    serve({ ...answers, 'GET /api/v1/craft/': [] })
    const { page } = await show(MatchPage, { path: '/match' })
    await settle()
    expect(page.text()).toContain('No craft yet')
  })

  it('says why nothing is chosen', async () => {
    const none = found({ picks: null, no_pick: 'no candidate hovers', upgrade: null })
    serve({ ...answers, 'GET /api/v1/craft/5/match/': none })
    const { page } = await show(MatchPage, { path: '/match' })
    await settle()
    expect(page.text()).toContain('Nothing to choose: no candidate hovers')
  })
})

describe('the form', () => {
  it('sends a change from the version that was read, and says a refusal at its field', async () => {
    const sent: unknown[] = []
    serve({
      'GET /api/v1/motors/': { count: 0, results: [] },
      'GET /api/v1/propellers/': [],
      'PATCH /api/v1/craft/5/': (body: unknown) => {
        sent.push(body)
        return refusal(400, 'taken', {
          fields: { name: ['There is a craft named Other already.'] },
        })
      },
    })
    const { page } = await show(CraftForm, { props: { craft, copy: false } })
    await page.find('input').setValue('Other')
    await page.find('form').trigger('submit')
    await settle()
    expect(sent[0]).toMatchObject({ name: 'Other', version: 2, cells: 4 })
    expect(page.text()).toContain('There is a craft named Other already.')
    expect(page.emitted('kept')).toBeUndefined()
  })

  it('cannot be sent while something is missing, and says what', async () => {
    serve({ 'GET /api/v1/motors/': { count: 0, results: [] }, 'GET /api/v1/propellers/': [] })
    const { page } = await show(CraftForm, { props: { craft: null, copy: false } })
    expect(page.text()).toContain('Give the craft a name')
    expect(page.find('button[type="submit"]').attributes('disabled')).toBeDefined()
  })
})

describe('a pack of the rig', () => {
  it('is offered where it says its cells and capacity, and is still there', () => {
    const list = [
      pack(),
      pack({ id: 9, cells: null }),
      pack({ id: 10, retired: true }),
      pack({ id: 11, kind: 'psu' }),
      pack({ id: 12, capacity_mah: null }),
    ]
    expect(packsOf(list).map((one) => one.id)).toEqual([8])
  })

  it('fills cells, capacity and C-rate, and empties what it does not say', () => {
    const draft = newDraft()
    draft.numbers.rated_c = '120'
    takePack(draft, pack({ cells: 6, capacity_mah: 1100, rate_c: null }))
    expect([draft.numbers.cells, draft.numbers.capacity_mah, draft.numbers.rated_c]).toEqual([
      '6',
      '1100',
      '',
    ])
    expect(draft.items.map((one) => one.name)).toEqual(['frame', 'pack', 'electronics'])
  })

  it('is taken by its name in the form', async () => {
    serve({
      'GET /api/v1/session/': session(),
      'GET /api/v1/supplies/': { count: 1, next: null, previous: null, results: [pack()] },
    })
    const { page } = await show(CraftForm, { props: { craft: null, copy: false } })
    await settle()
    await pick(page, '#craft-pack', 'Pack 4-3: 4 cells, 1,500 mAh, 95 C')
    const capacity = page.findAll('input').find((one) => one.element.value === '1500')
    expect(capacity).toBeDefined()
  })

  it('is not asked for where the rig has none', async () => {
    serve({ 'GET /api/v1/session/': session() })
    const { page } = await show(CraftForm, { props: { craft: null, copy: false } })
    expect(page.find('#craft-pack').exists()).toBe(false)
  })
})
