/** What each role may, in words; each may what those before it may. */
export const ROLES = [
  { key: 'reader', label: 'Reader', may: 'reads everything, and stops the bench' },
  { key: 'reviewer', label: 'Reviewer', may: 'measures, writes and proposes' },
  { key: 'editor', label: 'Editor', may: 'publishes and withdraws' },
  { key: 'administrator', label: 'Administrator', may: 'lets people in' },
] as const
export type Role = (typeof ROLES)[number]['key']
