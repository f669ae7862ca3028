/** Words and units as the server tells them: quantities, kinds of run, limits, choices. They are
 * loaded once, after logging in and before any page (see App.vue). */
import { computed, shallowRef } from 'vue'
import type { Schemas } from '@/api/client'

export type Words = Schemas['Words']
export type RunKind = Words['run_kinds'][number]
export type Choice =
  | 'motor_kind'
  | 'size_basis'
  | 'turning'
  | 'obtained'
  | 'price_per'
  | 'price_status'
  | 'shipping'
  | 'availability'
  | 'part_kind'
  | 'preparation'
  | 'incident'
  | 'supply_kind'
  | 'joined'
  | 'charge'
  | 'adapter_kind'
  | 'insulation'
  | 'stand_kind'
  | 'chemistry'
  | 'gear_incident'
  | 'pack_state'
  | 'prop_turns'
  | 'instrument_kind'
  | 'instrument_keeps'
  | 'instrument_signal'
  | 'command_source'
  | 'purpose'
  | 'question'
  | 'layout'
  | 'use'
  | 'mass_basis'
  | 'wind'
  | 'letter'
  | 'trigger'
  | 'review'
  | 'outcome'
  | 'role'

const told = shallowRef<Words | null>(null)
const quantities = computed(() => new Map(told.value?.quantities.map((one) => [one.name, one])))

/** Take what the server told. */
export function tell(words: Words): void {
  told.value = words
}

/** Everything that was told. Pages are only shown once it is there. */
export function words(): Words {
  if (!told.value) throw new Error('The words have not been loaded.')
  return told.value
}

export function isQuantity(name: string): boolean {
  return quantities.value.has(name)
}

export function labelOf(name: string): string {
  return quantities.value.get(name)?.label ?? name
}

/** As within a sentence: "largest thrust"; symbols such as kV keep their letters. */
export function midSentence(label: string): string {
  return /^[A-Z][a-z]/.test(label) ? label.charAt(0).toLowerCase() + label.slice(1) : label
}

export function unitOf(name: string): string {
  return quantities.value.get(name)?.unit ?? ''
}

/** "Thrust (gf)": the form for axes and column heads. */
export function headOf(name: string): string {
  const unit = unitOf(name)
  return unit ? `${labelOf(name)} (${unit})` : labelOf(name)
}

export function runKind(key: string): RunKind | undefined {
  return told.value?.run_kinds.find((kind) => kind.key === key)
}

/** The words of a choice in their order. */
export function choices(choice: Choice): readonly { key: string; label: string }[] {
  return words().choices[choice] ?? []
}

/** A key of the record in words; the key itself where nobody told a word. */
export function wordOf(choice: Choice, key: string | null | undefined): string {
  if (!key) return ''
  return told.value?.choices[choice]?.find((one) => one.key === key)?.label ?? key
}
