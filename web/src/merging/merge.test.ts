import { beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick, ref } from 'vue'
import { ApiError } from '@/api/client'
import { merged, mergeRows, shown } from './merge'
import { useFactForm } from './useFactForm'

const base = { note: '', mark: 'A', turning: 'cw' }
const by = (values: Record<string, unknown>) => ({ version: 4, who: 'Tomas', at: null, values })

describe('two people at one fact', () => {
  it('decides what only one of them changed', () => {
    const rows = mergeRows(
      base,
      { ...base, note: 'mine' },
      by({ note: '', mark: 'A', turning: 'ccw' }),
    )
    expect(rows.map((row) => [row.field, row.choice])).toEqual([
      ['note', 'mine'],
      ['turning', 'theirs'],
    ])
    expect(merged(rows, { ...base, note: 'mine' })).toEqual({
      note: 'mine',
      mark: 'A',
      turning: 'ccw',
    })
  })

  it('asks where both changed the same field', () => {
    const rows = mergeRows(base, { ...base, note: 'mine' }, by({ ...base, note: 'theirs' }))
    expect(rows[0]?.choice).toBeNull()
    expect(merged(rows, base)).toBeNull()
    if (rows[0]) rows[0].choice = 'theirs'
    expect(merged(rows, { ...base, note: 'mine' })?.note).toBe('theirs')
  })

  it('has nothing to ask where both wrote the same', () => {
    const rows = mergeRows(base, { ...base, note: 'x' }, by({ ...base, note: 'x' }))
    expect(merged(rows, { ...base, note: 'x' })?.note).toBe('x')
  })

  it('takes null and a missing field for the same', () => {
    expect(mergeRows({ u: null }, { u: undefined }, by({ u: null }))).toEqual([])
  })

  it('takes a typed number and the number of the record for the same', () => {
    const typed = { price_amount: '20', set_size: '', note: 'x' }
    const now = by({ price_amount: 20, set_size: null, note: '' })
    expect(mergeRows({ ...typed, note: '' }, typed, now).map((row) => row.field)).toEqual(['note'])
  })

  it('shows absent as a dash, never as 0', () => {
    expect([null, '', undefined, 0, false, true, 'x'].map(shown)).toEqual([
      '—',
      '—',
      '—',
      '0',
      'no',
      'yes',
      'x',
    ])
  })
})

describe('a form over a fact', () => {
  beforeEach(() => localStorage.clear())

  const make = (write: (values: object, version: number) => Promise<number>) => {
    const stored = ref({ values: { note: '', count: 1 as number | null }, version: 3 })
    const form = useFactForm({ key: () => 'parcel-1', stored: () => stored.value, write })
    return { stored, form }
  }
  const conflict = new ApiError(409, {
    code: 'changed_meanwhile',
    message: 'x',
    fields: {},
    where: null,
    current: by({ note: 'theirs', count: 1 }),
  })

  it('keeps the draft over a reload, with the version it was begun from', async () => {
    const first = make(async () => 4)
    first.form.form.value.note = 'typed'
    await nextTick()
    const sent: number[] = []
    const second = make(async (_, version) => sent.push(version))
    second.stored.value = { values: { note: 'newer', count: 1 }, version: 5 }
    await nextTick()
    expect(second.form.form.value.note).toBe('typed')
    await second.form.save()
    expect(sent).toEqual([3])
  })

  it('forgets the draft once it is stored', async () => {
    const { form } = make(async () => 4)
    form.form.value.note = 'typed'
    await nextTick()
    await form.save()
    expect(form.dirty.value).toBe(false)
    expect(localStorage.getItem('spindle.drafts')).not.toContain('typed')
  })

  it('keeps what was typed when the server is away', async () => {
    const { form } = make(async () => {
      throw new ApiError(0, { code: 'offline', message: 'away', fields: {}, where: null })
    })
    form.form.value.note = 'typed'
    await nextTick()
    await form.save()
    expect(form.form.value.note).toBe('typed')
    expect(form.problem.value).toBeInstanceOf(ApiError)
  })

  it('turns a late write into a merge, and writes what was settled', async () => {
    const sent: unknown[] = []
    const { form } = make(async (values, version) => {
      if (version === 3) throw conflict
      sent.push([values, version])
      return version + 1
    })
    form.form.value.note = 'mine'
    await form.save()
    expect(form.conflict.value?.values.note).toBe('theirs')
    await form.save({ note: 'both', count: 1 }, 4)
    expect(sent).toEqual([[{ note: 'both', count: 1 }, 4]])
    expect(form.conflict.value).toBeNull()
  })

  it('writes a second field from the version that the first one made', async () => {
    const sent: [object, number][] = []
    let release = () => {}
    const { form } = make((values, version) => {
      sent.push([{ ...values }, version])
      return new Promise((resolve) => (release = () => resolve(version + 1)))
    })
    form.form.value.note = 'first'
    const first = form.save()
    form.form.value.count = 2
    await form.save()
    expect(sent).toHaveLength(1)
    release()
    await vi.waitFor(() => expect(sent).toHaveLength(2))
    release()
    await first
    expect(sent).toEqual([
      [{ note: 'first', count: 1 }, 3],
      [{ note: 'first', count: 2 }, 4],
    ])
    expect(form.dirty.value).toBe(false)
    expect(form.conflict.value).toBeNull()
  })

  it('follows the record while nothing is typed, and not while something is', async () => {
    const { stored, form } = make(async () => 4)
    stored.value = { values: { note: 'newer', count: 1 }, version: 4 }
    await nextTick()
    expect(form.form.value.note).toBe('newer')
    form.form.value.note = 'typed'
    await nextTick()
    stored.value = { values: { note: 'newest', count: 1 }, version: 5 }
    await nextTick()
    expect(form.form.value.note).toBe('typed')
    form.drop()
    expect(form.form.value.note).toBe('newest')
  })
})
