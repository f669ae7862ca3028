/** Beeps that a person at the bench hears: slow near a limit, fast beyond it. */
export type Alarm = '' | 'near' | 'beyond'

interface Pattern {
  every_ms: number
  pitch_hz: number
  long_s: number
}
export const PATTERNS: Record<Exclude<Alarm, ''>, Pattern> = {
  near: { every_ms: 900, pitch_hz: 660, long_s: 0.12 },
  beyond: { every_ms: 260, pitch_hz: 990, long_s: 0.18 },
}

export class AlarmSound {
  private context: AudioContext | null = null
  private timer: ReturnType<typeof setInterval> | undefined
  private now: Alarm = ''

  /** Change what is heard; the same again goes on. */
  set(alarm: Alarm): void {
    if (alarm === this.now) return
    this.now = alarm
    clearInterval(this.timer)
    if (!alarm) return
    const pattern = PATTERNS[alarm]
    this.beep(pattern)
    this.timer = setInterval(() => this.beep(pattern), pattern.every_ms)
  }

  /** One beep, to hear that there is sound; false where the browser has none. */
  try(): boolean {
    return this.beep(PATTERNS.near)
  }

  end(): void {
    this.set('')
    void this.context?.close()
    this.context = null
  }

  private beep({ pitch_hz, long_s }: Pattern): boolean {
    if (typeof AudioContext === 'undefined') return false
    this.context ??= new AudioContext()
    const context = this.context
    void context.resume()
    const tone = context.createOscillator()
    const loud = context.createGain()
    tone.frequency.value = pitch_hz
    loud.gain.setValueAtTime(0.25, context.currentTime)
    // A tone that ends in a step clicks.
    loud.gain.exponentialRampToValueAtTime(0.001, context.currentTime + long_s)
    tone.connect(loud).connect(context.destination)
    tone.start()
    tone.stop(context.currentTime + long_s)
    return true
  }
}
