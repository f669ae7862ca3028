import { afterEach, describe, expect, it, vi } from 'vitest'
import { api, sendForm } from './client'

/** A server whose answers are given one after the other; null is none at all. */
function serveInTurn(...answers: (Response | null)[]) {
  const keys: (string | null)[] = []
  vi.stubGlobal('fetch', async (request: Request) => {
    keys.push(request.headers.get('Idempotency-Key'))
    const answer = answers[keys.length - 1]
    if (!answer) throw new TypeError('Failed to fetch')
    return answer
  })
  return keys
}
const json = (status: number, body: unknown = {}) =>
  new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } })
const send = (name: string) =>
  api.POST('/api/v1/supplies/', { body: { name } as never }).catch((error: unknown) => error)

describe('a write that is sent again', () => {
  afterEach(() => vi.unstubAllGlobals())

  it('keeps its key as long as nobody answered', async () => {
    const keys = serveInTurn(null, null, json(201), json(201))
    for (let n = 0; n < 4; n++) await send('Pack 1')
    expect(keys[0]).toMatch(/^[a-z0-9]{24}$/)
    expect(keys.slice(0, 3)).toEqual([keys[0], keys[0], keys[0]])
    expect(keys[3]).not.toBe(keys[0])
  })

  it('keeps it where a proxy or a stumbling server answered, or one that is still at it', async () => {
    const keys = serveInTurn(
      new Response('<html>', { status: 502 }),
      json(500),
      json(409, { code: 'still_under_way', message: 'Still.' }),
      json(201),
      json(201),
    )
    for (let n = 0; n < 5; n++) await send('Pack 2')
    expect(new Set(keys.slice(0, 4)).size).toBe(1)
    expect(keys[4]).not.toBe(keys[3])
  })

  it('has a new one once it was refused, and another for something else', async () => {
    const keys = serveInTurn(null, null, json(400), json(201))
    await send('Pack 3')
    await send('Pack 4')
    expect(keys[1]).not.toBe(keys[0])
    await send('Pack 3')
    expect(keys[2]).toBe(keys[0])
    await send('Pack 3')
    expect(keys[3]).not.toBe(keys[0])
  })

  it('two at one instant are one', async () => {
    const keys = serveInTurn(json(201), json(201))
    await Promise.all([send('Pack 5'), send('Pack 5')])
    expect(keys[0]).toBe(keys[1])
  })

  it('reading needs none', async () => {
    const keys = serveInTurn(json(200))
    await api.GET('/api/v1/supplies/')
    expect(keys).toEqual([null])
  })

  it('a form keeps its key too, and another file has another', async () => {
    const keys: string[] = []
    vi.stubGlobal(
      'XMLHttpRequest',
      class {
        upload = {}
        onerror?: () => void
        open() {}
        setRequestHeader(name: string, value: string) {
          if (name === 'Idempotency-Key') keys.push(value)
        }
        send() {
          this.onerror?.()
        }
      },
    )
    const form = (name: string) => {
      const made = new FormData()
      made.append('file', new File(['x'], name, { lastModified: 1 }))
      return made
    }
    for (const name of ['a.csv', 'a.csv', 'b.csv'])
      await sendForm('/api/v1/imports/', form(name)).catch(() => undefined)
    expect(keys[0]).toMatch(/^[a-z0-9]{24}$/)
    expect(keys[1]).toBe(keys[0])
    expect(keys[2]).not.toBe(keys[0])
  })
})
