/** The bench's other pages of Compare as one uses them: groups of columns, other tests, money. */
import { afterEach, describe, expect, it } from 'vitest'
import type { Schemas } from '@/api/client'
import BenchRows from '@/features/compare/BenchRows.vue'
import MassMoneyPage from '@/features/compare/MassMoneyPage.vue'
import OtherTestsPage from '@/features/compare/OtherTestsPage.vue'
import { groupText, groupWords } from '@/features/compare/bench'
import { statedFigure } from './comparisonServer'
import { serve, session, settle, show } from './mounting'

afterEach(() => {
  serve({})
  document.body.innerHTML = ''
})

const answers = {
  'GET /api/v1/session/': session(),
  'GET /api/v1/propellers/': { count: 0, results: [] },
}

describe('groups of columns', () => {
  const group = (condition: string, level: number | null, words = '') => ({
    condition,
    level,
    craft: condition === 'hover' ? 4 : null,
    words,
    figures: ['power_w'],
  })

  it('are said and asked for in a few letters', () => {
    expect(groupText(group('thrust_gf', 600))).toBe('thrust_gf@600')
    expect(groupText(group('hover', null))).toBe('hover@4')
    expect(groupText(group('full', null))).toBe('full')
    expect(groupWords(group('thrust_gf', 600))).toBe('at 600 gf')
    expect(groupWords(group('hover', null, 'hover of Five inch'))).toBe('hover of Five inch')
  })

  it('stand side by side, with the level that each motor was read at', async () => {
    const cell = (value: number, at: number) => ({
      name: 'power_w',
      figure: statedFigure(value, 2),
      samples: 1,
      runs: 1,
      delta: null,
      group: at,
    })
    const row = {
      key: '3|L',
      motor: 3,
      motor_name: 'Drift',
      propeller: 1,
      propeller_name: 'L',
      runs: [7],
      baseline: false,
      marks: [],
      cells: [cell(380, 0), cell(61, 1)],
      levels: [null, 152.25],
      better: 0,
      equal: 0,
      worse: 0,
      unresolved: 0,
    }
    const groups = [group('full', null), group('hover', null, 'hover of Five inch')]
    const { page } = await show(BenchRows, { props: { rows: [row], groups } })
    const heads = page.findAll('thead th').map((one) => one.text().replaceAll(/\s+/g, ' '))
    expect(heads[1]).toContain('full throttle')
    expect(heads.at(-1)).toContain('hover of Five inch')
    expect(page.get('tbody').text()).toContain('152.3')
    expect(page.get('tbody').text()).toContain('61')
  })
})

describe('other tests', () => {
  const table: Schemas['KindTable'] = {
    kinds: [
      { kind: 'no_load', label: 'No load' },
      { kind: 'soak', label: 'Soak' },
    ],
    kind: 'no_load',
    figures: ['kv_rpm_per_v', 'no_load_current_a'],
    rows: [
      {
        key: '3|',
        motor: 3,
        motor_name: 'Drift',
        load: 'no propeller, 16 V bench supply',
        runs: [1],
        baseline: false,
        off_label_pct: statedFigure(-1.1, 0.4),
        cells: [
          {
            name: 'kv_rpm_per_v',
            figure: statedFigure(1880, 8),
            samples: 2,
            runs: 4,
            delta: null,
            claimed: [{ value: 1900, source: 'label' }],
          },
          {
            name: 'no_load_current_a',
            figure: statedFigure(1.08, 0.1),
            samples: 1,
            runs: 1,
            delta: { delta: 0.1, delta_pct: 9, u_pct: 2, outcome: 'different' },
            claimed: [],
          },
        ],
      },
    ],
    more: 12,
  }
  const kv: Schemas['OneKv'] = {
    kv_rpm_per_v: 2000,
    propeller: 1,
    propeller_name: 'Wickett 5.1x4.2x3',
    voltage_v: 16,
    figure: 'thrust_gf',
    figures: ['thrust_gf', 'power_w'],
    reference: 3,
    rows: [
      {
        motor: 5,
        motor_name: 'No. 4',
        rests_on: 'identified',
        kv_rpm_per_v: statedFigure(1880, 8),
        resistance_ohm: statedFigure(0.08, 0.001),
        km_nm_per_sqrt_w: statedFigure(0.017, 0.0001),
        as_it_is: [{ name: 'thrust_gf', figure: statedFigure(1044, 18) }],
        rewound: [{ name: 'thrust_gf', figure: statedFigure(1260, 22) }],
        total_pct: statedFigure(22, 3),
        design_pct: statedFigure(-11, 3),
        winding_pct: statedFigure(33, 4),
        said: 'both design and winding',
      },
    ],
    reason: '',
  }
  const served = {
    ...answers,
    'GET /api/v1/compare/tests/': table,
    'GET /api/v1/compare/one-kv/': kv,
  }

  it('hold kV against the label, quote it, and draw bars with the claim beside', async () => {
    serve(served)
    const { page, path } = await show(OtherTestsPage, { path: '/compare/tests' })
    const row = page.get('tbody tr').text().replaceAll(/\s+/g, '')
    expect(row).toContain('1,900')
    expect(row).toContain('−1.1±0.4')
    expect(row).toContain('different')
    await page.get('button[aria-label="bars of kV"]').trigger('click')
    expect(page.findAll('.bar-row')).toHaveLength(1)
    expect(page.find('.claim').exists()).toBe(true)
    expect(page.text()).toContain('12 more motors are not shown')
    await page.get('button[aria-label^="hold the others"]').trigger('click')
    await settle()
    expect(path()).toContain('baseline=3|')
  })

  it('split a difference into winding and design', async () => {
    serve(served)
    const { page } = await show(OtherTestsPage, { path: '/compare/tests' })
    const sheet = page.get('section[aria-label="At one kV"]').text().replaceAll(/\s+/g, '')
    expect(sheet).toContain('bothdesignandwinding')
    expect(sheet).toContain('33±4')
    expect(sheet).toContain('Allestimated.')
  })

  it('say that there are none yet', async () => {
    serve({
      ...served,
      'GET /api/v1/compare/tests/': { kinds: [], kind: '', figures: [], rows: [], more: 0 },
    })
    const { page } = await show(OtherTestsPage, { path: '/compare/tests' })
    expect(page.text()).toContain('No other tests yet')
  })
})

describe('mass and money', () => {
  const cell = (name: string, value: number | null) => ({
    name,
    figure: statedFigure(value, 0.1, 'no price on record'),
    delta: null,
  })
  const mass: Schemas['MassAndMoney'] = {
    lead_length_mm: 60,
    currency: 'EUR',
    load: 'W|bench supply|16',
    load_words: 'W, 16 V bench supply',
    loads: [{ key: 'W|bench supply|16', words: 'W, 16 V bench supply', motors: 2 }],
    rows: [
      {
        motor: 3,
        motor_name: 'Drift',
        size_code: '2206',
        volume_mm3: 2281,
        aspect: 0.27,
        copper_room: '',
        price_words: 'each, 17 Sep 2026',
        losses: '1 of 2 destroyed',
        cells: [
          cell('mass_g', 30.7),
          cell('max_thrust_gf', 1116),
          cell('thrust_per_gram', 36.3),
          cell('price', null),
          cell('thrust_per_price', null),
        ],
        thrust_over_trend_pct: statedFigure(2, 2.2),
        mass_over_trend_pct: statedFigure(1, 0.2),
        baseline: false,
      },
    ],
    trend_words: 'Over the stators of 5 motors thrust goes with the volume.',
    copper_words: 'Km.',
    choosing: ['Choose among Drift.'],
    more: 0,
  }

  it('stand with what is not known, and in sentences', async () => {
    serve({ ...answers, 'GET /api/v1/compare/mass/': mass })
    const { page, path } = await show(MassMoneyPage, { path: '/compare/mass' })
    const row = page.get('tbody tr').text()
    expect(row).toContain('36.3')
    expect(row).toContain('not looked at')
    expect(row).toContain('1 of 2 destroyed')
    expect(page.find('[data-reason="no price on record"]').exists()).toBe(true)
    expect(page.text()).toContain('Choose among Drift.')
    await page.get('button[aria-label="bars of Thrust per gram"]').trigger('click')
    expect(page.findAll('.bar-row')).toHaveLength(1)
    await page.get('button[aria-label^="hold the others"]').trigger('click')
    await settle()
    expect(path()).toContain('baseline=3')
  })

  it('say that there are no motors yet', async () => {
    serve({ ...answers, 'GET /api/v1/compare/mass/': { ...mass, rows: [], choosing: [] } })
    const { page } = await show(MassMoneyPage, { path: '/compare/mass' })
    expect(page.text()).toContain('No motors yet')
  })
})
