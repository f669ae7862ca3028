/** Each motor keeps one colour and one marker shape on every screen. */
export interface Mark {
  color: string
  symbol: string
  dash: number[] | 'solid'
}

// Ours; told apart in hue and lightness by colour-blind readers too.
const COLORS = [
  '#a6501f',
  '#1f6f78',
  '#6d4a8f',
  '#8a6d0b',
  '#34548f',
  '#a03a5c',
  '#4a6b2a',
  '#4a4f55',
]
const SYMBOLS = ['circle', 'rect', 'triangle', 'diamond']
const DASHES: (number[] | 'solid')[] = ['solid', [7, 4], [2, 3], [10, 3, 2, 3]]

export function motorMark(motorId: number): Mark {
  const index = Math.max(0, motorId - 1)
  const color = COLORS[index % COLORS.length] ?? '#4a4f55'
  const symbol = SYMBOLS[(index + Math.floor(index / COLORS.length)) % SYMBOLS.length] ?? 'circle'
  return { color, symbol, dash: 'solid' }
}

/** Marks for compared runs: the motor's colour, and a dash per run of the same motor. */
export function runMarks(motorIds: number[]): Mark[] {
  const seen = new Map<number, number>()
  return motorIds.map((id) => {
    const count = seen.get(id) ?? 0
    seen.set(id, count + 1)
    const mark = motorMark(id)
    return {
      ...mark,
      symbol: SYMBOLS[(SYMBOLS.indexOf(mark.symbol) + count) % SYMBOLS.length] ?? mark.symbol,
      dash: DASHES[count % DASHES.length] ?? 'solid',
    }
  })
}
