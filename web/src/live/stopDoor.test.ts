import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { StopDoor, type DoorView } from './stopDoor'

class FakeSocket {
  readyState = 0
  sent: Record<string, unknown>[] = []
  onopen: (() => void) | null = null
  onmessage: ((event: { data: string }) => void) | null = null
  onclose: ((event: { code: number }) => void) | null = null
  send(text: string) {
    this.sent.push(JSON.parse(text) as Record<string, unknown>)
  }
  close(code = 1000) {
    this.readyState = 3
    this.onclose?.({ code })
  }
  opens() {
    this.readyState = 1
    this.onopen?.()
  }
  says(message: object) {
    this.onmessage?.({ data: JSON.stringify(message) })
  }
}

let sockets: FakeSocket[]
let views: DoorView[]
let answers: [number, boolean][]
let clock: number
let passes: number
let refuse: boolean

function aDoor() {
  return new StopDoor(
    async () => {
      passes += 1
      if (refuse) throw new Error('away')
      return { token: `t${passes}`, port: 8140, url: '' }
    },
    (view) => views.push(view),
    (id, arrived) => answers.push([id, arrived]),
    (url) => {
      expect(url).toMatch(/^ws:.*:8140.$/)
      const socket = new FakeSocket()
      sockets.push(socket)
      return socket as never
    },
    () => clock,
  )
}

async function entered() {
  const door = aDoor()
  door.enter()
  await vi.advanceTimersByTimeAsync(0)
  sockets[0]?.opens()
  return door
}

beforeEach(() => {
  vi.useFakeTimers()
  sockets = []
  views = []
  answers = []
  clock = passes = 0
  refuse = false
})
afterEach(() => vi.useRealTimers())

describe('the way to the stop door', () => {
  it('shows its pass first and answers each ping in the handler, without a timer', async () => {
    await entered()
    const [socket] = sockets
    expect(socket?.sent).toEqual([{ type: 'token', token: 't1' }])
    socket?.says({ type: 'ping', n: 7, stand: { armed: true, throttle_pct: 40, speed_rpm: 9000 } })
    expect(socket?.sent.at(-1)).toEqual({ type: 'pong', n: 7 })
    expect(views.at(-1)?.stand?.armed).toBe(true)
    expect(vi.getTimerCount()).toBe(0)
  })

  it('sends a stop and hears whether it arrived', async () => {
    const door = await entered()
    expect(door.cut()).toBe(1)
    expect(sockets[0]?.sent.at(-1)).toEqual({ type: 'stop', id: 1 })
    sockets[0]?.says({ type: 'not_stopped', id: 1 })
    sockets[0]?.says({ type: 'stopped', id: 1 })
    expect(answers).toEqual([
      [1, false],
      [1, true],
    ])
  })

  it('says that it is shut, and opens again with the pass it has', async () => {
    const door = await entered()
    refuse = true
    sockets[0]?.close(1006)
    expect(views.at(-1)).toEqual({ open: false, stand: null, troubles: [] })
    expect(door.cut()).toBeNull()
    clock += 300
    await vi.advanceTimersByTimeAsync(300)
    sockets[1]?.opens()
    expect(sockets[1]?.sent).toEqual([{ type: 'token', token: 't1' }])
  })

  it('is tried again by whatever wakes the page, but not more than four times a second', async () => {
    const door = await entered()
    sockets[0]?.close(1006)
    clock += 1000
    for (let i = 0; i < 50; i++) door.poke()
    await Promise.resolve()
    expect(sockets).toHaveLength(2)
  })

  it('asks for a new pass when the old one is refused, and goes on trying while there is none', async () => {
    await entered()
    refuse = true
    sockets[0]?.close(4401)
    for (let i = 0; i < 4; i++) {
      clock += 300
      await vi.advanceTimersByTimeAsync(300)
    }
    expect(sockets).toHaveLength(1)
    expect(passes).toBeGreaterThan(2)
    refuse = false
    clock += 300
    await vi.advanceTimersByTimeAsync(300)
    sockets[1]?.opens()
    expect(sockets[1]?.sent[0]?.token).toBe(`t${passes}`)
  })

  it('renews its pass every few minutes from the ping, once', async () => {
    await entered()
    sockets[0]?.says({ type: 'ping', n: 0 })
    clock += 5 * 60_000
    for (let n = 0; n < 3; n++) sockets[0]?.says({ type: 'ping', n })
    await vi.advanceTimersByTimeAsync(0)
    expect(sockets[0]?.sent.filter((m) => m.type === 'token').map((m) => m.token)).toEqual([
      't1',
      't2',
    ])
  })

  it('leaves a door that is open and silent, and tries anew', async () => {
    const door = await entered()
    clock += 1400
    door.poke()
    expect(door.isOpen).toBe(true)
    clock += 200
    door.poke()
    expect(views.at(-1)?.open).toBe(false)
    await vi.advanceTimersByTimeAsync(0)
    expect(sockets).toHaveLength(2)
  })

  it('is left when nobody is logged in', async () => {
    const door = await entered()
    door.leave()
    clock += 5000
    await vi.advanceTimersByTimeAsync(5000)
    door.poke()
    expect(sockets).toHaveLength(1)
    expect(door.cut()).toBeNull()
  })

  it('survives nonsense', async () => {
    const door = await entered()
    sockets[0]?.onmessage?.({ data: '{' })
    sockets[0]?.says({ type: 'strange' })
    expect(door.isOpen).toBe(true)
  })
})
