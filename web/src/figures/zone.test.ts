import { afterEach, describe, expect, it } from 'vitest'
import { dateTime, localDay, otherZone, tellTimesIn } from './format'

const OWN = Intl.DateTimeFormat().resolvedOptions().timeZone
afterEach(() => tellTimesIn(OWN))

describe('the time zone of the bench', () => {
  it.each([
    ['Europe/Oslo', '2026-06-01T22:30:00Z', '2026-06-02 00:30'],
    ['Europe/Oslo', '2026-12-01T22:30:00Z', '2026-12-01 23:30'],
    ['America/Lima', '2026-06-02T04:30:00Z', '2026-06-01 23:30'],
    ['Pacific/Chatham', '2026-06-01T11:30:00Z', '2026-06-02 00:15'],
    ['UTC', '2026-01-01T00:00:00+02:00', '2025-12-31 22:00'],
    // The hour that comes twice when summer ends.
    ['Europe/Oslo', '2026-10-25T00:30:00Z', '2026-10-25 02:30'],
    ['Europe/Oslo', '2026-10-25T01:30:00Z', '2026-10-25 02:30'],
  ])('in %s %s is %s', (zone, iso, words) => {
    tellTimesIn(zone)
    expect(dateTime(iso)).toBe(words)
    expect(localDay(new Date(iso))).toBe(words.slice(0, 10))
  })

  it('midnight is 00:00, never 24:00', () => {
    tellTimesIn('UTC')
    expect(dateTime('2026-06-01T00:00:00Z')).toBe('2026-06-01 00:00')
  })

  it('years keep their four digits and order', () => {
    tellTimesIn('UTC')
    expect(dateTime('0987-06-05T04:03:00Z')).toMatch(/^0?987-06-05 04:03$/)
  })

  it('what this browser does not know leaves its own, and nothing leaves what was', () => {
    tellTimesIn('Asia/Tokyo')
    tellTimesIn(undefined)
    tellTimesIn('')
    expect(dateTime('2026-06-01T00:00:00Z')).toBe('2026-06-01 09:00')
    tellTimesIn('Middle/Nowhere')
    expect(otherZone()).toBe('')
    tellTimesIn(OWN)
    const own = new Date(2026, 5, 1, 12, 34)
    expect(dateTime(own.toISOString())).toBe('2026-06-01 12:34')
  })

  it('is named where it is not that of who reads, and two names of one clock are one', () => {
    tellTimesIn('Asia/Tokyo')
    expect(otherZone('UTC')).toBe('Asia/Tokyo')
    expect(otherZone('Asia/Tokyo')).toBe('')
    expect(otherZone('Asia/Seoul')).toBe('')
    tellTimesIn('UTC')
    expect(otherZone('Etc/UTC')).toBe('')
  })
})
