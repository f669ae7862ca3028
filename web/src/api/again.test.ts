import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { Uploading } from '@/tests/mounting'
import { sessionEnded, sessionIsOver, whoWorks, works } from './again'
import { api, ApiError, sendForm } from './client'

const ilse = {
  id: 1,
  username: 'ilse',
  full_name: '',
  shown_name: 'Ilse',
  role: 'reviewer',
} as const
const tomas = { ...ilse, id: 2, username: 'tomas', shown_name: 'Tomas' } as const
const user = (one: typeof ilse | typeof tomas) => ({ ...one, version: 1 })

/** A server that knows nobody until told, and keeps what arrived. */
function serveOnce() {
  const arrived: { method: string; path: string; body: string; csrf: string | null }[] = []
  let known = false
  vi.stubGlobal('fetch', async (input: Request | string, init?: RequestInit) => {
    const request =
      input instanceof Request ? input : new Request(new URL(input, 'http://bench/'), init)
    arrived.push({
      method: request.method,
      path: new URL(request.url).pathname,
      body: init?.body instanceof FormData ? 'form' : await request.text(),
      csrf: request.headers.get('X-CSRFToken'),
    })
    if (known) return new Response('{}', { status: 200 })
    return new Response('{"code":"not_authenticated","message":"Log in."}', { status: 401 })
  })
  return { arrived, know: () => (known = true) }
}
const tick = () => new Promise((resolve) => setTimeout(resolve, 5))

describe('a session that ends in mid-work', () => {
  beforeEach(() => works(user(ilse)))
  afterEach(() => works(null))

  it('holds what was being sent, asks, and sends it again for the same person', async () => {
    const server = serveOnce()
    const sent = api.POST('/api/v1/supplies/', { body: { name: 'Pack 7' } as never })
    await tick()
    expect(sessionIsOver.value).toBe(true)
    expect(server.arrived).toHaveLength(1)
    server.know()
    document.cookie = 'csrftoken=fresh'
    works(user(ilse))
    await sent
    expect(server.arrived.map((one) => one.body)).toEqual([
      '{"name":"Pack 7"}',
      '{"name":"Pack 7"}',
    ])
    expect(server.arrived[1]?.csrf).toBe('fresh')
    expect(sessionIsOver.value).toBe(false)
  })

  it('is asked about once, however many requests it stops', async () => {
    const server = serveOnce()
    const sent = [
      api.GET('/api/v1/board/'),
      api.GET('/api/v1/stands/'),
      api.GET('/api/v1/supplies/'),
    ]
    await tick()
    server.know()
    works(user(ilse))
    await Promise.all(sent)
    expect(server.arrived).toHaveLength(6)
  })

  it('sends nothing in the name of somebody else', async () => {
    const server = serveOnce()
    const sent = api.POST('/api/v1/supplies/', { body: { name: 'Pack 7' } as never })
    const refused = expect(sent).rejects.toMatchObject({ status: 401 })
    await tick()
    server.know()
    works(user(tomas))
    await refused
    expect(server.arrived).toHaveLength(1)
    expect(whoWorks.value?.username).toBe('tomas')
  })

  it('holds a file that was being sent as well', async () => {
    vi.stubGlobal('XMLHttpRequest', Uploading)
    const server = serveOnce()
    const sent = sendForm('/api/v1/imports/', new FormData())
    await tick()
    server.know()
    works(user(ilse))
    await sent
    expect(server.arrived.map((one) => one.body)).toEqual(['form', 'form'])
  })

  it('asks nothing of a page on which nobody works', async () => {
    works(null)
    serveOnce()
    await expect(api.GET('/api/v1/board/')).rejects.toBeInstanceOf(ApiError)
    expect(sessionIsOver.value).toBe(false)
    expect(await sessionEnded()).toBe(false)
  })

  it('is not what a wrong password says', async () => {
    serveOnce()
    const body = { username: 'ilse', password: 'wrong' }
    await expect(api.POST('/api/v1/session/', { body })).rejects.toMatchObject({ status: 401 })
    expect(sessionIsOver.value).toBe(false)
  })
})
