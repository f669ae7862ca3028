/** A miss in words: z is measured − expected in units of the u of that difference. */
export function missWords(z: number | null | undefined): string {
  if (z === null || z === undefined) return ''
  const away = Math.abs(z)
  if (away <= 1) return 'as expected'
  if (away <= 2) return 'within two u'
  const side = z > 0 ? 'above' : 'below'
  return away <= 3 ? `${side} what was expected` : `far ${side} what was expected`
}
