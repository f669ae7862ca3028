/** The table of a comparison as a still: the compared below each other, a level or a figure a column. */
import type { Schemas } from '@/api/client'
import type { StillTable } from '@/charts/stills'
import { deltaText, figureText } from '@/figures/format'
import { labelOf, unitOf } from '@/words/words'
import { CONDITION_WORDS } from './bench'
import { shortNames } from './curves'

type Comparison = Schemas['Comparison']
const MOST_COLUMNS = 5

/** A difference no finer than it is known. */
function deltaWords(cell: Schemas['ComparedCell']): string {
  if (cell.delta_pct == null) return ''
  if (cell.outcome === 'unresolved') return 'not resolved'
  if (cell.outcome === 'equivalent') return 'no difference'
  return `${deltaText(cell.delta_pct, cell.u_pct).value} %`
}

function said(cell: Schemas['ComparedCell'] | undefined): string {
  if (cell?.value == null) return '—'
  const text = figureText(cell.value, cell.u)
  const delta = deltaWords(cell)
  return `${text.u ? `${text.value} ± ${text.u}` : text.value}${delta ? `  ${delta}` : ''}`
}

const withUnit = (words: string, name: string) =>
  unitOf(name) ? `${words}, ${unitOf(name)}` : words

/** Of several levels the first figure that anybody has, at each; at full throttle every figure. */
export function comparisonStill(comparison: Comparison): StillTable {
  const full = comparison.condition === 'full'
  const there = comparison.figures.filter((name) =>
    comparison.rows.some(
      (row) => row.name === name && row.cells.some((cell) => cell.value !== null),
    ),
  )
  const usual = there.includes('efficiency_g_per_w') ? 'efficiency_g_per_w' : there[0]
  const rows = comparison.rows
    .filter((row) => (full ? there.includes(row.name) : row.name === usual))
    .slice(0, MOST_COLUMNS)
  const under = CONDITION_WORDS[comparison.condition] ?? comparison.condition
  const figure = full || !usual ? '' : `${withUnit(labelOf(usual), usual)} — `
  return {
    title: `${figure}at ${under}`,
    heads: [
      'Compared',
      ...rows.map((row) =>
        full || row.at === null
          ? withUnit(labelOf(row.name), row.name)
          : `at ${Math.round(row.at * 10) / 10} ${unitOf(comparison.condition)}`,
      ),
    ],
    rows: shortNames(comparison.subjects).map((name, at) => [
      name,
      ...rows.map((row) => said(row.cells[at])),
    ]),
    foot: '± is the standard uncertainty. Per cent: against the baseline, or the one before.',
  }
}
