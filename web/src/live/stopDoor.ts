/**
 * The way to the stop door: a WebSocket that stays open beside the application. Pings are answered
 * in the message handler, because timers of hidden tabs sleep.
 */
import type { Schemas } from '@/api/client'

export type DoorPass = Schemas['DoorPass']

/** What the stand says of itself, asked by the door without agent and database. */
export interface StandNow {
  armed: boolean
  throttle_pct: number | null
  speed_rpm: number | null
}

export interface DoorView {
  open: boolean
  stand: StandNow | null
  troubles: string[]
}

type Socket = Pick<WebSocket, 'send' | 'close' | 'readyState'> & {
  onopen: ((event: Event) => void) | null
  onmessage: ((event: MessageEvent<string>) => void) | null
  onclose: ((event: CloseEvent) => void) | null
}

const OPEN = 1
const RETRY_MS = 250
/** Pings come twice a second; a door that is silent for this long is left and tried anew. */
const SILENT_MS = 1500
const RENEW_MS = 4 * 60_000
const BAD_TOKEN = 4401

export class StopDoor {
  private socket: Socket | null = null
  private pass: DoorPass | null = null
  private passAt = 0
  private fetching = false
  private tried = -Infinity
  private timer: ReturnType<typeof setTimeout> | undefined
  private wanted = false
  private number = 0
  private heardAt = 0

  constructor(
    private readonly fetchPass: () => Promise<DoorPass>,
    private readonly show: (view: DoorView) => void,
    private readonly stopped: (id: number, arrived: boolean) => void,
    private readonly dial: (url: string) => Socket = (url) => new WebSocket(url) as Socket,
    private readonly now: () => number = () => performance.now(),
  ) {}

  /** Keep it open from now on. */
  enter() {
    if (this.wanted) return
    this.wanted = true
    this.poke()
  }

  /** Leave it: nobody is logged in any more. */
  leave() {
    this.wanted = false
    clearTimeout(this.timer)
    this.pass = null
    this.drop()
  }

  get isOpen(): boolean {
    return this.socket?.readyState === OPEN
  }

  /** Ask for a stop; the number to be heard of again, or null where the door is shut. */
  cut(): number | null {
    if (!this.isOpen) return null
    this.number += 1
    this.socket?.send(JSON.stringify({ type: 'stop', id: this.number }))
    return this.number
  }

  /** Something woke the page: a chance to try a shut door again. */
  poke() {
    if (this.socket && this.now() - this.heardAt > SILENT_MS) this.drop()
    if (!this.wanted || this.socket || this.now() - this.tried < RETRY_MS) return
    this.tried = this.now()
    void this.open()
  }

  private async open() {
    if (!this.pass && !(await this.renew())) return this.later()
    const pass = this.pass
    if (!pass || !this.wanted || this.socket) return
    let socket: Socket
    try {
      socket = this.dial(pass.url || `ws://${location.hostname}:${pass.port}/`)
    } catch {
      return this.later()
    }
    this.socket = socket
    this.heardAt = this.now()
    socket.onopen = () => this.socket === socket && this.present()
    socket.onmessage = (event) => this.socket === socket && this.heard(event.data)
    socket.onclose = (event) => {
      if (this.socket !== socket) return
      this.socket = null
      if (event.code === BAD_TOKEN) this.pass = null
      this.show({ open: false, stand: null, troubles: [] })
      this.later()
    }
  }

  private drop() {
    const socket = this.socket
    this.socket = null
    socket?.close()
    this.show({ open: false, stand: null, troubles: [] })
  }

  private later() {
    clearTimeout(this.timer)
    if (this.wanted) this.timer = setTimeout(() => this.poke(), RETRY_MS)
  }

  private present() {
    this.socket?.send(JSON.stringify({ type: 'token', token: this.pass?.token }))
  }

  private async renew(): Promise<boolean> {
    if (this.fetching) return false
    this.fetching = true
    try {
      this.pass = await this.fetchPass()
      this.passAt = this.now()
      return true
    } catch {
      return false // the pass in hand is good for hours
    } finally {
      this.fetching = false
    }
  }

  private heard(text: string) {
    let message: {
      type: string
      n?: number
      id?: number
      stand?: StandNow | null
      troubles?: string[]
    }
    try {
      message = JSON.parse(text) as typeof message
    } catch {
      return
    }
    this.heardAt = this.now()
    if (message.type === 'ping') {
      this.socket?.send(JSON.stringify({ type: 'pong', n: message.n }))
      this.show({ open: true, stand: message.stand ?? null, troubles: message.troubles ?? [] })
      if (this.now() - this.passAt > RENEW_MS) {
        this.passAt = this.now() // ask once, not with every ping
        void this.renew().then((fresh) => fresh && this.isOpen && this.present())
      }
    } else if (message.type === 'stopped' || message.type === 'not_stopped') {
      this.stopped(message.id ?? 0, message.type === 'stopped')
    }
  }
}
