import { describe, expect, it } from 'vitest'
import { standaloneSvg, toCsv } from './save'

describe('the numbers behind a chart', () => {
  it('leave an absent value empty and quote what needs it', () => {
    const table = {
      columns: ['run', 'thrust_gf'],
      rows: [
        ['A, "hot"', 12.5],
        ['B', null],
      ],
    }
    expect(toCsv({ ...table, rows: table.rows as (string | number | null)[][] })).toBe(
      'run,thrust_gf\n"A, ""hot""",12.5\nB,\n',
    )
  })
})

describe('a chart as SVG', () => {
  it('stands alone on its ground and leaves the page as it was', () => {
    const svg = document.createElementNS('http://www.w3.org/2000/svg', 'svg')
    svg.append(document.createElementNS('http://www.w3.org/2000/svg', 'path'))
    const text = standaloneSvg(svg as SVGSVGElement, '#fff')
    expect(text).toContain('http://www.w3.org/2000/svg')
    expect(text.indexOf('rect')).toBeLessThan(text.indexOf('path'))
    expect(svg.childElementCount).toBe(1)
  })
})
