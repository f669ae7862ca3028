/** Samples side by side inside. */
import { afterEach, describe, expect, it, vi } from 'vitest'
import TeardownComparePage from '@/features/teardown/TeardownComparePage.vue'
import { anAttribute, pick, serve, session, show } from './mounting'

// Keys are listened for on the window: a page of an earlier test must not hear them.
afterEach(() => {
  serve({})
  localStorage.clear()
  document.body.innerHTML = ''
})

const SESSION = { 'GET /api/v1/session/': session() }
const choice = (key: string, rest: object = {}) => ({
  key,
  label: key,
  suggests: '',
  helps: [],
  costs: [],
  ...rest,
})
const motor = {
  id: 3,
  maker: 'Ostrel',
  name: 'Drift',
  full_name: 'Ostrel Drift 2206 1900',
  size_code: '2206',
  size_basis: 'stator',
  kv_label_rpm_per_v: 1900,
  samples: [
    { id: 7, motor: 3, mark: 'A' },
    { id: 8, motor: 3, mark: 'B' },
  ],
}
const seen = (attribute: string, rest: object) => ({
  id: 1,
  sample: 8,
  attribute,
  status: 'observed',
  choice: '',
  value: null,
  u: null,
  ordinal: '',
  reference: null,
  reference_name: '',
  reference_short: '',
  reference_changed: false,
  instrument: '',
  note: '',
  observed_at: '2026-10-05T09:00:00Z',
  observed_by_name: 'Ilse',
  version: 1,
  ...rest,
})
const empty = { observations: [], findings: [], not_applicable: [] }
const answers = {
  ...SESSION,
  'GET /api/v1/motors/': { results: [motor] },
  'GET /api/v1/teardown/vocabulary/': {
    version: 3,
    steps: ['Magnets'],
    outside_step: 'Outside',
    attributes: [
      anAttribute('total_height', { step: 'Outside', unit: 'mm', high: 200 }),
      anAttribute('shape', {
        choices: [choice('arc', { helps: ['power'], costs: ['cost'] }), choice('flat')],
        ordinal_words: ['less', 'about the same', 'more'],
      }),
      anAttribute('diameter', {
        unit: 'mm',
        low: 4,
        high: 120,
        ordinal_words: ['smaller', 'about the same', 'larger'],
      }),
      anAttribute('pole_count', { unit: '', integer: true, low: 2, high: 96 }),
    ],
  },
  'GET /api/v1/samples/7/teardown/': empty,
  'GET /api/v1/samples/8/teardown/': { ...empty, observations: [seen('shape', { choice: 'arc' })] },
  'GET /api/v1/samples/7/photos/': [],
}

describe('teardown compare', () => {
  const cell = (text: string, rest: object = {}) => ({
    status: 'observed',
    text,
    value: null,
    u: null,
    ...rest,
  })
  const table = {
    samples: motor.samples.map((sample) => ({
      id: sample.id,
      mark: sample.mark,
      motor: 3,
      motor_name: motor.full_name,
      size_code: '2206',
      size_basis: 'stator',
    })),
    observations: [[], []],
    rows: [
      {
        key: 'shape',
        label: 'Magnet shape',
        step: 'Magnets',
        unit: null,
        outcome: 'different',
        cells: [cell('arc'), cell('flat')],
      },
      {
        key: 'winding',
        label: 'Winding',
        step: 'Winding',
        unit: null,
        outcome: 'same',
        cells: [cell('single'), cell('single')],
      },
    ],
    arguments: [
      {
        topic: 'power',
        column: 0,
        speaks_for: true,
        label: 'Magnet shape',
        answer: 'arc',
        suggests: 'even gap',
        counterpoint: 'Some say no.',
      },
    ],
    claims: [
      {
        quantity: 'mass_g',
        label: 'Mass',
        cells: [
          {
            id: 1,
            quantity: 'mass_g',
            label: 'Mass',
            value: 30.1,
            words: '',
            unit: 'g',
            source: 'box',
          },
          null,
        ],
      },
    ],
    unknown: [
      { sample: 7, labels: ['Balancing'] },
      { sample: 8, labels: [] },
    ],
  }
  const at = (path: string) => show(TeardownComparePage, { path, at: '/teardown/compare' })

  it('shows the differences alone until asked for everything', async () => {
    serve({ ...answers, 'GET /api/v1/teardown/compare/': table })
    const { page } = await at('/teardown/compare?samples=7,8')
    expect(page.text()).toContain('Magnet shape')
    expect(page.findAll('td').some((td) => td.text() === 'Winding')).toBe(false)
    await page.get('input[type=checkbox]').setValue(true)
    expect(page.findAll('td').some((td) => td.text() === 'Winding')).toBe(true)
  })

  it('keeps claims apart, says what differences suggest, and what nobody knows', async () => {
    serve({ ...answers, 'GET /api/v1/teardown/compare/': table })
    const { page } = await at('/teardown/compare?samples=7,8')
    expect(page.text()).toContain('claims, not measurements')
    expect(page.text()).toContain('On the other hand: Some say no.')
    expect(page.text()).toContain('Balancing')
    expect(page.text()).toContain('Everything was looked at.')
    expect(page.get('svg[role=img]').attributes('aria-label')).toBe(
      'Ostrel Drift 2206 1900 A, Ostrel Drift 2206 1900 B at one scale',
    )
  })

  it('asks for a second sample', async () => {
    const asked = serve(answers)
    const { page, path } = await at('/teardown/compare?samples=7')
    expect(page.text()).toContain('Choose two to four samples')
    expect(asked.some((a) => a.path.includes('compare'))).toBe(false)
    await pick(page, '[role=combobox]', 'Ostrel Drift 2206 1900 · B')
    await vi.waitFor(() => expect(path()).toBe('/teardown/compare?samples=7,8'))
  })
})
