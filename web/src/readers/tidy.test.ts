import { describe, expect, it } from 'vitest'
import { tidy } from './tidy'

describe('a drawing for a page that lasts', () => {
  it('has ids that follow from its key, whatever was drawn before', () => {
    const drawn = (n: number) =>
      `<svg><g id="zr${n}-c${n}" clip-path="url(#zr${n}-c${n})" fill="url(#zr${n}-g${9 * n})"></g></svg>`
    expect(tidy(drawn(0), 'thrust')).toBe(tidy(drawn(17), 'thrust'))
    expect(tidy(drawn(3), 'thrust')).toContain('url(#thrust-0)" fill="url(#thrust-1)"')
    expect(tidy(drawn(3), 'thrust')).not.toBe(tidy(drawn(3), 'efficiency'))
  })

  it('cuts numbers of the drawing short, and no others', () => {
    const svg = '<path d="M10.123456 -0.5678L1e2 3.14159e-7"/><text x="1.25">3.14159 gf</text>'
    expect(tidy(svg, 'k')).toBe('<path d="M10.1 -0.6L1e2 0"/><text x="1.3">3.14159 gf</text>')
  })

  it('leaves out what a page of its own does not need', () => {
    const drawn =
      '<svg><path d="M1 2" class="zr0-cls-3" ecmeta_ssr_type="chart" pointer-events="visible"></path>\n' +
      '<text style="font-size:11px;font-family:\'B612\', x;">a</text>' +
      '<style ><![CDATA[\n.zr0-cls-3:hover {\ncursor:pointer;\n}\n]]>\n</style></svg>'
    expect(tidy(drawn, 'k')).toBe(
      '<svg><path d="M1 2"/><text style="font-size:11px;">a</text></svg>',
    )
    // What bears a title is not closed before it.
    const titled = '<path d="M1 2"><title>bell</title></path><rect x="1"></rect>'
    expect(tidy(titled, 'k')).toBe('<path d="M1 2"><title>bell</title></path><rect x="1"/>')
  })

  it('takes out what only the application needs', () => {
    expect(tidy('<!--[--><g data-v-1a2b3c4d class="a" data-v-0f></g><!--]-->', 'k')).toBe(
      '<g class="a"></g>',
    )
  })
})
