/**
 * A write, beside the queries that have to be read anew after it. What was refused is kept for the
 * form to say; what was typed stays where it is.
 */
import { type QueryKey, useMutation, useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'

/** What rests on a thing of the record, by the first word of the queries' keys. */
const RESTS_ON = {
  /** A motor's own facts: identity, claims, parcels, weighings, incidents, expectations. */
  motor: ['motor', 'motors', 'board', 'fit', 'gear-limits', 'rank', 'match'],
  sample: ['motor', 'motors', 'board', 'fit', 'teardown', 'rank', 'match', 'afterwards'],
  /** What is learnt of motors and propellers follows their runs. */
  run: [
    'run',
    'runs',
    'board',
    'compare',
    'motor',
    'motors',
    'propellers',
    'repeats',
    'expectation',
    'hindsight',
    'plan',
    'day-sheet',
    'packs-now',
    'rank',
    'match',
    'other-benches',
  ],
  /** What a metre of lead weighs: of all motors. */
  lead: ['lead-wires', 'motor', 'motors', 'board', 'compare', 'rank', 'match'],
  /** What the bench declares for all motors. */
  declaration: ['motor', 'motors', 'fit', 'board', 'rank', 'match'],
  propeller: ['propellers', 'fit', 'plan', 'match'],
  supply: ['supplies', 'packs-now', 'gear-limits', 'plan', 'match'],
  stand: ['stands', 'compare', 'bench-day', 'gear-limits', 'rank', 'match'],
  adapter: ['adapters', 'fit'],
  esc: ['escs', 'bench-day', 'gear-limits'],
  /** What runs of a day have in common; its runs may change with it. */
  day: ['bench-day', 'gear-limits', 'run', 'runs', 'compare', 'motor', 'board', 'rank', 'match'],
  photo: ['photos', 'motor'],
  /** Two that became one: whatever names either. */
  double: [
    'doubles',
    'motor',
    'motors',
    'propellers',
    'board',
    'run',
    'runs',
    'compare',
    'rank',
    'match',
    'plan',
    'afterwards',
    'verdicts',
    'other-benches',
    'work',
  ],
  snapshot: ['snapshots'],
  comparison: ['compare'],
  /** What a reviewer would take. */
  pick: ['compare'],
  /** Another bench's pack; one may begin a motor file. */
  quoted: ['other-benches', 'motors'],
  flight: ['afterwards'],
  letter: ['afterwards', 'plan'],
  'follow-up': ['afterwards'],
  /** What a verdict says is read anew by who changed it; here only how it stands. */
  verdict: ['verdicts'],
  publication: ['publication', 'publications', 'verdicts'],
  /** What befell the gear; what is destroyed is retired. */
  gear: ['gear-incidents', 'escs', 'supplies', 'propellers', 'stands', 'gear-limits'],
  campaign: ['plan'],
  /** A run sheet at the bench, and its ticks. */
  'day-sheet': ['day-sheet', 'plan'],
  /** How a pack stands. */
  pack: ['packs-now', 'plan'],
  profile: ['saved-profiles'],
  weights: ['rank'],
  ranking: ['rank'],
  craft: ['match'],
  work: ['work', 'run', 'runs'],
  archive: ['exports', 'work'],
  person: ['people', 'session'],
  login: ['logins', 'second-factor', 'session', 'people'],
} as const satisfies Record<string, readonly string[]>

export type Thing = keyof typeof RESTS_ON

/** The keys of the queries that are read anew after a thing was written. */
export function keysAfter(thing: Thing): QueryKey[] {
  return RESTS_ON[thing].map((key) => [key])
}

export function useWrite<Input = void, Output = unknown>(
  thing: Thing,
  write: (input: Input) => Promise<Output>,
) {
  const client = useQueryClient()
  const mutation = useMutation({
    mutationFn: write,
    // A write is tried by who wrote it; a second try by itself could be a second row.
    retry: false,
    networkMode: 'always',
    onSuccess: () =>
      Promise.all(keysAfter(thing).map((queryKey) => client.invalidateQueries({ queryKey }))),
  })
  return {
    /** The answer, or undefined where it was refused: then {@link problem} says why. */
    async send(input: Input): Promise<Output | undefined> {
      try {
        return await mutation.mutateAsync(input)
      } catch {
        return undefined
      }
    },
    /** The same for who handles a refusal; it throws. */
    sendOrThrow: mutation.mutateAsync,
    problem: computed<unknown>(() => mutation.error.value),
    busy: computed(() => mutation.isPending.value),
    /** Forget what was refused, for instance when something else is typed. */
    clear: () => mutation.reset(),
  }
}
