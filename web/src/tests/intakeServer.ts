/** What the server answers in tests of a motor's intake, and ways to look at what was sent. */
import { aMotorFile, anAttribute, session, type show } from './mounting'

export const number = (key: string, label: string, unit: string, high: number) => ({
  key,
  label,
  unit,
  low: 0.5,
  high,
  words: false,
  expected: false,
})
export const base = {
  'GET /api/v1/session/': session(),
  'GET /api/v1/claim-quantities/': [
    number('mass_g', 'Mass', 'g', 2000),
    number('max_current_a', 'Rated current', 'A', 500),
    { ...number('bearings', 'Bearings', '', 0), words: true },
  ],
  'GET /api/v1/teardown/vocabulary/': {
    version: 3,
    steps: ['Magnets'],
    outside_step: 'Outside',
    attributes: [
      anAttribute('total_height', { label: 'Height over all', unit: 'mm', low: 4, high: 200 }),
      anAttribute('body_height', { label: 'Height of the body', unit: 'mm', low: 3, high: 150 }),
      anAttribute('lead_gauge', {
        label: 'Gauge of the leads',
        unit: 'AWG',
        integer: true,
        low: 10,
        high: 34,
      }),
      anAttribute('prop_hold', {
        label: 'What holds the propeller',
        choices: [{ key: 'nut', label: 'a nut', suggests: '', helps: [], costs: [] }],
      }),
    ],
  },
  'GET /api/v1/samples/7/teardown/': { observations: [], findings: [], not_applicable: [] },
  'GET /api/v1/motors/3/': aMotorFile(),
}
/** Bodies of the requests that write; a late check of typed claims is none. */
export const body = (asked: { method: string; path: string; body: unknown }[], method: string) =>
  asked
    .filter((a) => a.method === method && !a.path.endsWith('claim-check/'))
    .map((a) => a.body as Record<string, unknown>)
export type Page = Awaited<ReturnType<typeof show>>['page']
export const value = (page: Page, selector: string) =>
  (page.get(selector).element as HTMLInputElement).value
