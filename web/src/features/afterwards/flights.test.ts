import { describe, expect, it } from 'vitest'
import type { Schemas } from '@/api/client'
import { bodyOf, errorText, hoursText, newDraft, triggerText } from './flights'

describe('a flight as it is typed', () => {
  it('needs a craft, a day and minutes, and nothing more', () => {
    const draft = newDraft()
    expect(bodyOf(draft, null, []).lacks).toBe('Name the craft.')
    expect(bodyOf(draft, 3, []).lacks).toBe('Say how many minutes.')
    draft.numbers.minutes = '4,5'
    const { body, lacks } = bodyOf(draft, 3, [7])
    expect(lacks).toBe('')
    expect(body).toMatchObject({ craft: 3, minutes: 4.5, put_back_mah: null, samples: [7] })
    expect(bodyOf({ ...draft, flown_on: '' }, 3, []).lacks).toBe('Name the day.')
  })
  it('never takes text that is no number for nothing', () => {
    const draft = newDraft()
    draft.numbers.minutes = '4.5'
    draft.numbers.put_back_mah = 'about a thousand'
    const { body, lacks } = bodyOf(draft, 3, [])
    expect(body).toBeNull()
    expect(lacks).toContain('is no number')
  })
})

describe('what is told of it', () => {
  it('is an error with its u, or nothing', () => {
    expect(errorText({ value: 4.2, u: 8.1 })).toBe('+4 ± 8\u2009%')
    expect(errorText({ value: -52.9, u: 2.5 })).toBe('−52.9 ± 2.5\u2009%')
    expect(errorText({ value: null, u: null })).toBe('')
  })
  it('is hours as they are read', () => {
    expect(hoursText(0.2)).toBe('12\u2009min')
    expect(hoursText(3.44)).toBe('3.4\u2009h')
  })
  it('says when a point comes back and how far it is', () => {
    const point = (row: object, hours = 0) =>
      ({ row: { hours_then: 1, ...row }, due: false, hours }) as Schemas['FollowUpState']
    expect(triggerText(point({ trigger: 'date', due_on: '2026-10-31' }), '')).toBe('on 2026-10-31')
    expect(triggerText(point({ trigger: 'hours', after_hours: 5 }, 1.5), '')).toBe(
      'after 5\u2009h of use; 30\u2009min so far',
    )
    expect(triggerText(point({ trigger: 'first_flight' }), 'after its first flight')).toBe(
      'after its first flight',
    )
  })
})
