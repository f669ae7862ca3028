import { expect, it } from 'vitest'
import { standBody, supplyBody } from './bodies'

it('a stand goes out in relative units', () => {
  const draft = {
    name: 'Scale',
    kind: 'lever',
    repeatability: '1,5',
    calibration: '2',
    live: false,
  }
  expect(standBody(draft)).toMatchObject({ repeatability_rel: 0.015, calibration_rel: 0.02 })
})

it('a supply sends its voltage and trip, a pack its cells and capacity', () => {
  const draft = {
    name: 'x',
    kind: 'psu',
    volts: '16',
    trip: '',
    cells: '4',
    mah: '1500',
    mohm: '4',
  }
  expect(supplyBody(draft)).toMatchObject({
    resistance_ohm: 0.004,
    nominal_voltage_v: 16,
    trip_a: null,
    cells: null,
    capacity_mah: null,
  })
  expect(supplyBody({ ...draft, kind: 'pack' })).toMatchObject({
    nominal_voltage_v: null,
    cells: 4,
    capacity_mah: 1500,
  })
})

it('a word is no number, and is not sent as 0', () => {
  const draft = {
    name: 'Scale',
    kind: 'lever',
    repeatability: 'good',
    calibration: '2',
    live: true,
  }
  expect(standBody(draft).repeatability_rel).toBeNaN()
})
