import { describe, expect, it } from 'vitest'
import { nextToSend, ofPerson, put, type Waiting, withWaiting, without } from './outbox'
import { argumentsByTopic, chosenSamples, shownRows } from './comparing'
import { referencesFor } from './references'

const item = (attribute: string, rest: Partial<Waiting> = {}): Waiting => ({
  sample: 7,
  answer: { attribute, status: 'observed', choice: 'arc' } as Waiting['answer'],
  base: {},
  ...rest,
})

describe('answers that wait', () => {
  it('hold one answer per question, the latest', () => {
    const later = { ...item('winding'), answer: { ...item('winding').answer, choice: 'multi' } }
    const waiting = put(put(put([], item('winding')), item('base_type')), later)
    expect(waiting.map((w) => [w.answer.attribute, w.answer.choice])).toEqual([
      ['base_type', 'arc'],
      ['winding', 'multi'],
    ])
    expect(without(waiting, item('winding'))).toHaveLength(1)
    expect(without(waiting, item('winding', { sample: 8 }))).toHaveLength(2)
  })

  it('are sent in order, but for those that need a person', () => {
    const refused = item('winding', { refused: 'no' })
    const conflict = item('base_type', { current: { version: 2, who: 'x', at: null, values: {} } })
    expect(nextToSend([refused, conflict, item('balancing')], 1)?.answer.attribute).toBe(
      'balancing',
    )
    expect(nextToSend([refused, conflict], 1)).toBeNull()
  })

  it('belong to who gave them: nobody else sends, replaces or takes them away', () => {
    const mine = item('winding', { person: 1 })
    const theirs = item('winding', { person: 2 })
    const both = put([mine], theirs)
    expect(both).toEqual([mine, theirs])
    expect(nextToSend(both, 2)).toEqual(theirs)
    expect(nextToSend([mine], 2)).toBeNull()
    expect(nextToSend([mine], undefined)).toBeNull()
    expect(without(both, theirs)).toEqual([mine])
    expect(ofPerson(both, 1)).toEqual([mine])
    // What an earlier version kept named nobody.
    expect(nextToSend([item('winding')], 2)?.answer.attribute).toBe('winding')
  })

  it('stand in the place of what is on record, for their own sample alone', () => {
    const stored = { attribute: 'winding', choice: 'single', value: null, sample: 7 }
    const shown = withWaiting(
      [stored as never],
      [item('winding'), item('winding', { sample: 8 })],
      7,
    )
    expect(shown.map((seen) => seen.choice)).toEqual(['arc'])
    expect(withWaiting([stored as never], [], 7)).toEqual([stored])
  })
})

describe('samples that an answer can refer to', () => {
  const motor = (id: number, maker: string, name: string, kv: number, samples: number[]) => ({
    id,
    maker,
    name,
    size_code: '2207',
    kv_label_rpm_per_v: kv,
    full_name: `${maker} ${name}`,
    samples: samples.map((sample) => ({ id: sample, motor: id, mark: 'ABC'[sample % 3] })),
  })
  const own = motor(1, 'Hollin', 'Pale', 1250, [3, 4])
  const wind = motor(2, 'Hollin', 'Pale', 1480, [6])
  const other = motor(3, 'Ostrel', 'Drift', 1900, [9])

  it('are its siblings first, then the family, then the bench, and never itself', () => {
    const found = referencesFor([other, wind, own] as never, own as never, 3)
    expect(found.map((one) => [one.id, one.group])).toEqual([
      [4, 'this motor'],
      [6, 'its family'],
      [9, 'the bench'],
    ])
    expect(found[0]?.name).toBe('sample B')
    expect(found[1]?.name).toBe('Pale 2207 1480 A')
  })
})

describe('teardowns side by side', () => {
  it('reads samples from the address, each once, at most four', () => {
    expect(chosenSamples('7,8,8,x,9,10,11')).toEqual([7, 8, 9, 10])
    expect(chosenSamples('')).toEqual([])
    expect(chosenSamples('0,-3')).toEqual([])
  })

  it('shows the differences alone unless asked', () => {
    const rows = ['same', 'different', 'unresolved', 'unknown'].map((outcome) => ({ outcome }))
    expect(shownRows(rows as never, false)).toHaveLength(1)
    expect(shownRows(rows as never, true)).toHaveLength(4)
  })

  it('gathers arguments by topic and says each counterpoint once', () => {
    const said = (topic: string, counterpoint: string) => ({
      topic,
      column: 0,
      speaks_for: true,
      label: '',
      answer: '',
      suggests: '',
      counterpoint,
    })
    const topics = argumentsByTopic([said('power', 'no'), said('heat', ''), said('power', 'no')])
    expect(topics.map((topic) => [topic.topic, topic.said.length])).toEqual([
      ['power', 2],
      ['heat', 1],
    ])
    expect(topics.counterpoints).toEqual(['no'])
  })
})
