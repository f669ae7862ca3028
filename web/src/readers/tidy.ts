/** Drawings for pages that last: the same input gives the same bytes, and few of them. */

/** Numbers of a drawing with as many decimals as the eye can see. */
const rounded = (text: string, decimals: number) =>
  text.replace(/-?\d*\.\d+(?:e-?\d+)?/g, (found) =>
    String(Number(Number(found).toFixed(decimals)) + 0),
  )

/**
 * An SVG with ids of its own, that follow from its key and not from how many were drawn before, and
 * with its numbers cut short. Scopes of styles and marks for hydration are taken out.
 */
export function tidy(svg: string, key: string, decimals = 1): string {
  const names = new Map<string, string>()
  const named = (found: string) => {
    if (!names.has(found)) names.set(found, `${key}-${names.size}`)
    return names.get(found) as string
  }
  return svg
    .replace(/<style\s*>[\s\S]*?<\/style>/g, '')
    .replace(
      / (?:class="zr\d+-cls-\d+"|ecmeta_\w+="[^"]*"|pointer-events="[^"]*"|xml:space="[^"]*")/g,
      '',
    )
    .replace(/zr\d+-[a-z]+-?\d+/g, named)
    .replace(/font-family:[^;"]*;/g, '')
    .replace(/(<(path|rect|polygon|circle|line)\b[^<>]*)><\/\2>/g, '$1/>')
    .replace(/\n\s*/g, '')
    .replace(/ data-v-[0-9a-f]+(?:="")?/g, '')
    .replace(/<!--.*?-->/g, '')
    .replace(
      / (?:d|points|x|y|x1|y1|x2|y2|cx|cy|r|width|height|transform|viewBox)="[^"]*"/g,
      (found) => rounded(found, decimals),
    )
}
