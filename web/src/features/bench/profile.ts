/** What a kind of run is asked for: read and checked as it is typed, by the server's registry. */
import type { Schemas } from '@/api/client'
import { numberFault, readTyped } from '@/figures/readNumber'
import { type RunKind, runKind, words } from '@/words/words'

export type Parameter = Schemas['Words']['run_kinds'][number]['parameters'][number]

export interface ProfileDraft {
  kind: string
  /** What is typed for each kind of run, by its parameters' names. */
  values: Record<string, Record<string, string>>
}

/** Kinds that the bench plays. */
export const playedKinds = () => words().run_kinds.filter((kind) => kind.played)

/** The kind in hand; a draft of a kind that is no more is one of steps. */
export const kindOf = (draft: ProfileDraft): RunKind =>
  runKind(draft.kind) ?? (words().run_kinds[0] as RunKind)

/** What a kind of run is usually asked for, as typed. */
export function usualValues(kind: string): Record<string, string> {
  const parameters = runKind(kind)?.parameters ?? []
  return Object.fromEntries(parameters.map((one) => [one.name, one.default?.join(' ') ?? '']))
}

/** What is typed for the kind in hand, with what is usual where nobody typed. */
export function valuesOf(draft: ProfileDraft): Record<string, string> {
  return { ...usualValues(draft.kind), ...draft.values[draft.kind] }
}

/**
 * "20 40, 60" → [20, 40, 60]; null when a word is no number. A comma before a blank separates; in
 * "20,40" it could do either, and is asked about.
 */
export function readLevels(text: string): number[] | null {
  if (/\d,\d{2}/.test(text)) return null
  const parts = text.split(/\s*;\s*|,\s+|\s+/).filter(Boolean)
  const levels = parts.map((part) => readTyped(part))
  return parts.length && levels.every((level) => level.kind === 'number')
    ? levels.map((level) => (level.kind === 'number' ? level.value : NaN))
    : null
}

const within = (value: number, one: Parameter) => value >= one.low && value <= one.high

/** What is wrong with a parameter as typed; empty where it is right. */
export function parameterFault(one: Parameter, text: string): string {
  const range = `${one.label}: ${one.low} to ${one.high} ${one.unit}`.trim()
  if (one.many) {
    const listed = readLevels(text)
    if (!listed) return `${one.label}: write numbers, for instance 20 40 60`
    return listed.every((value) => within(value, one)) ? '' : range
  }
  const typed = readTyped(text)
  if (typed.kind === 'wrong') return numberFault(text)
  if (typed.kind === 'number') return within(typed.value, one) ? '' : range
  return one.optional ? '' : range
}

/** What is wrong with the profile, by parameter; a parameter that is right has no entry. */
export function profileFaults(draft: ProfileDraft): Record<string, string> {
  const values = valuesOf(draft)
  return Object.fromEntries(
    kindOf(draft)
      .parameters.map((one) => [one.name, parameterFault(one, values[one.name] ?? '')])
      .filter(([, fault]) => fault),
  )
}

/** The profile as the server takes it; null while something in it is wrong. */
export function profileBody(draft: ProfileDraft): Schemas['ProfileRequest'] | null {
  if (Object.keys(profileFaults(draft)).length) return null
  const values = valuesOf(draft)
  const numbers: Record<string, number | number[]> = {}
  for (const one of kindOf(draft).parameters) {
    const text = values[one.name] ?? ''
    const typed = readTyped(text)
    if (one.many) numbers[one.name] = readLevels(text) ?? []
    else if (typed.kind === 'number') numbers[one.name] = typed.value
  }
  return { kind: kindOf(draft).key, ...numbers } as Schemas['ProfileRequest']
}

type Saved = Schemas['Profile']
const valueOf = (profile: Saved | Schemas['ProfileRequest'], name: string) =>
  (profile as unknown as Record<string, number | number[] | null | undefined>)[name]

/** A kept profile as somebody would have typed it. */
export function textsOf(profile: Saved): Record<string, string> {
  const parameters = runKind(profile.kind ?? '')?.parameters ?? []
  return Object.fromEntries(
    parameters.map((one) => {
      // What the kind did not ask for when it was kept is as usual.
      const value = valueOf(profile, one.name) ?? one.default
      return [one.name, Array.isArray(value) ? value.join(' ') : (value?.toString() ?? '')]
    }),
  )
}

/** Whether what is typed is a kept profile, number by number. */
export function sameProfile(saved: Saved, typed: Schemas['ProfileRequest'] | null): boolean {
  if (!typed || (saved.kind ?? 'steps') !== typed.kind) return false
  const parameters = runKind(typed.kind)?.parameters ?? []
  const text = (value: number | number[] | null | undefined) => JSON.stringify(value ?? null)
  const usual = (one: Parameter) => (one.many ? one.default : one.default?.[0])
  return parameters.every(
    (one) => text(valueOf(saved, one.name) ?? usual(one)) === text(valueOf(typed, one.name)),
  )
}
