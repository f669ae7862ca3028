/** The steps of a motor's intake, in the order of the work, and which of them is done. */
import type { Schemas } from '@/api/client'

export interface Step {
  key: 'parcel' | 'claims' | 'mass' | 'outside' | 'fit' | 'peers'
  label: string
  question: string
}

export const STEPS: Step[] = [
  { key: 'parcel', label: 'Parcel', question: 'How did it come, and is the box complete?' },
  { key: 'claims', label: 'Claims', question: 'What does the maker say, and does it add up?' },
  { key: 'mass', label: 'Mass', question: 'What does it weigh at one lead length?' },
  { key: 'outside', label: 'Outside', question: 'What do callipers say?' },
  { key: 'fit', label: 'Fit', question: 'What can be bolted to it?' },
  { key: 'peers', label: 'Peers', question: 'Who is it up against, and what do you expect?' },
]

/** The measures that make the outside complete enough to check a fit. */
export const OUTSIDE_NEEDED = [
  'shaft_diameter',
  'shaft_free_length',
  'mount_circle',
  'thread_depth',
  'screw_clearance',
]

export interface Evidence {
  file: Schemas['MotorFile']
  /** Attributes answered on any sample. */
  answered: Set<string>
}

/** Whether a step has what the next stations need of it. */
export function done(step: Step['key'], { file, answered }: Evidence): boolean {
  switch (step) {
    case 'parcel':
      return file.parcels.some((row) => row.parcel.obtained !== 'unknown' && row.parcel.arrived_on)
    case 'claims':
      return file.claims.length > 0 && !file.remarks.some((remark) => remark.state === 'missing')
    case 'mass':
      return file.masses.samples.every((row) => row.mass_g.value !== null)
    case 'outside':
    case 'fit':
      return OUTSIDE_NEEDED.every((key) => answered.has(key))
    case 'peers':
      return file.expectations.length > 0
  }
}

/** The step after one, or null after the last. */
export function stepAfter(key: string): Step | null {
  const at = STEPS.findIndex((step) => step.key === key)
  return STEPS[at + 1] ?? null
}
