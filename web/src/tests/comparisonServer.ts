/** A comparison of two subjects as the server gives it, for tests. */
import type { Schemas } from '@/api/client'

export const statedFigure = (value: number | null, u: number | null = 0.1, reason = '') => ({
  value,
  u: value === null ? null : u,
  n: value === null ? null : 1,
  origin: 'measured',
  reason: value === null ? reason || 'no run tells it' : '',
  assumed: false,
})

export const aCell = (changed: Partial<Schemas['ComparedCell']> = {}): Schemas['ComparedCell'] => ({
  value: 150,
  u: 1,
  samples: 1,
  runs: 1,
  spread: null,
  absent_reason: '',
  absent_note: '',
  delta: null,
  delta_pct: null,
  u_pct: null,
  outcome: '',
  ...changed,
})

export const aSubject = (
  key: number,
  changed: Partial<Schemas['ComparedSubject']> = {},
): Schemas['ComparedSubject'] => ({
  key,
  motor: 3,
  motor_name: 'Ostrel Drift 2206 1900',
  motor_short: 'Drift 2206 1900',
  samples: ['A'],
  propeller_name: 'Wickett 5.1x4.2x3',
  propeller_short: '5.1x4.2x3',
  on: '16 V bench supply',
  setup: '',
  started_at: '2026-10-08T09:00:00Z',
  runs: [key],
  drawn: true,
  ...changed,
})

export const aCurve = (
  x_name = 'throttle_pct',
  y_name = 'thrust_gf',
  scale = 1,
): Schemas['DrawnCurve'] => ({
  x_name,
  y_name,
  x: [10, 50, 100],
  y: [20 * scale, 400 * scale, 1100 * scale],
  u: [1, 4, 10],
  points: [
    [10, 20 * scale, 1],
    [50, 400 * scale, 4],
    [100, 1100 * scale, 10],
  ],
  reason: '',
})

const feel = (changed: Partial<Schemas['Feel']> = {}): Schemas['Feel'] => ({
  low_slope_gf_per_pct: statedFigure(3),
  low_ratio: statedFigure(0.27),
  top_end_ratio: statedFigure(0.9),
  last_tenth_thrust_pct: statedFigure(12),
  last_tenth_current_pct: statedFigure(20),
  expo: null,
  no_expo: 'it is what the others are made to feel like',
  words: 'begins softly',
  stick_pct: [],
  thrust_gf: [],
  ...changed,
})

export function aComparison(changed: Partial<Schemas['Comparison']> = {}): Schemas['Comparison'] {
  return {
    by: 'repeats',
    subjects: [
      aSubject(7, { runs: [7, 8] }),
      aSubject(13, {
        motor: 5,
        motor_name: 'Brackwater No. 4 2306 1800',
        motor_short: 'No. 4 2306 1800',
      }),
    ],
    runs: [7, 8, 13],
    baseline: 7,
    against: 'baseline',
    condition: 'thrust_gf',
    levels: [600],
    figures: ['power_w', 'efficiency_g_per_w'],
    margin_pct: 2,
    axes: [{ x_name: 'throttle_pct', y_name: 'thrust_gf' }],
    curves: [
      [aCurve(), aCurve('thrust_gf', 'efficiency_g_per_w')],
      [aCurve('throttle_pct', 'thrust_gf', 1.1), aCurve('thrust_gf', 'efficiency_g_per_w', 0.9)],
    ],
    band: 'scatter only: all were run on one stand, whose gain they share',
    rows: [
      {
        at: 600,
        name: 'efficiency_g_per_w',
        cells: [
          aCell({ value: 3.51, u: 0.03, runs: 2, spread: 0.02 }),
          aCell({
            value: 3.57,
            u: 0.03,
            delta: 0.06,
            delta_pct: 1.7,
            u_pct: 0.7,
            outcome: 'different',
          }),
        ],
      },
      {
        at: 600,
        name: 'power_w',
        cells: [
          aCell(),
          aCell({
            value: null,
            u: null,
            absent_reason: 'not_reached',
            absent_note: 'measured from 0 to 500 gf',
          }),
        ],
      },
    ],
    crossings: [],
    envelope: [],
    feel: [
      feel(),
      feel({ expo: 0.18, no_expo: '', stick_pct: [10, 50, 100], thrust_gf: [null, 300, 1200] }),
    ],
    factors: [
      { name: 'motor', values: ['Drift A', 'No. 4 A'], state: 'differs' },
      { name: 'propeller', values: ['5.1x4.2x3', '5x3.6x3'], state: 'differs' },
      { name: 'air density', values: ['1.19 kg/m³', '—'], state: 'unknown' },
      { name: 'stand', values: ['Yard stand', 'Yard stand'], state: 'same' },
    ],
    confounded: ['motor', 'propeller'],
    warmth: null,
    correction: [],
    claims: [],
    remarks: ['Run 13 without a stand; a repeatability of 2 % is assumed.'],
    ...changed,
  }
}
