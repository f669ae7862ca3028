/** Saving a chart: its SVG as drawn, a PNG at twice the size, and the numbers behind it. */

export interface Table {
  columns: string[]
  rows: (string | number | null)[][]
}

export function toCsv(table: Table): string {
  const cell = (value: string | number | null) => {
    const text = value === null ? '' : String(value)
    return /[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text
  }
  return [table.columns, ...table.rows].map((row) => row.map(cell).join(',')).join('\n') + '\n'
}

/** The chart's SVG as a file that stands alone: sized, and with a ground. */
export function standaloneSvg(svg: SVGSVGElement, ground: string): string {
  const copy = svg.cloneNode(true) as SVGSVGElement
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg')
  const rect = document.createElementNS('http://www.w3.org/2000/svg', 'rect')
  rect.setAttribute('width', '100%')
  rect.setAttribute('height', '100%')
  rect.setAttribute('fill', ground)
  copy.insertBefore(rect, copy.firstChild)
  return new XMLSerializer().serializeToString(copy)
}

const INK = [
  'fill',
  'stroke',
  'stroke-width',
  'stroke-dasharray',
  'stroke-linejoin',
  'vector-effect',
  'font-family',
  'font-size',
  'font-style',
  'font-weight',
  'text-anchor',
]

/** A copy of a drawing with its style sheet's ink written into it, so that it stands alone. */
export function withInk(svg: SVGSVGElement): SVGSVGElement {
  const copy = svg.cloneNode(true) as SVGSVGElement
  const sources = [svg, ...svg.querySelectorAll('*')]
  const copies = [copy, ...copy.querySelectorAll('*')]
  sources.forEach((source, at) => {
    const style = getComputedStyle(source)
    const ink = INK.map((name) => [name, style.getPropertyValue(name)])
      .filter(([, value]) => value)
      .map(([name, value]) => `${name}:${value}`)
    copies[at]?.setAttribute('style', ink.join(';'))
    copies[at]?.removeAttribute('class')
  })
  return copy
}

/** Give a drawing in millimetres a size in pixels, by the width it is wanted at. */
export function sized(svg: SVGSVGElement, widthPx: number): { width: number; height: number } {
  const [, , width = 1, height = 1] = (svg.getAttribute('viewBox') ?? '').split(' ').map(Number)
  const size = { width: widthPx, height: Math.round((widthPx * height) / width) }
  svg.setAttribute('width', String(size.width))
  svg.setAttribute('height', String(size.height))
  return size
}

export function download(content: Blob, name: string): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(content)
  link.download = name
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000)
}

export async function pngOf(svgText: string, width: number, height: number): Promise<Blob> {
  const image = new Image()
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svgText)}`
  await image.decode()
  const canvas = document.createElement('canvas')
  canvas.width = 2 * width
  canvas.height = 2 * height
  const context = canvas.getContext('2d')
  if (!context) throw new Error('This browser cannot draw a PNG.')
  context.scale(2, 2)
  context.drawImage(image, 0, 0, width, height)
  return new Promise((resolve, reject) =>
    canvas.toBlob(
      (blob) => (blob ? resolve(blob) : reject(new Error('No PNG was made.'))),
      'image/png',
    ),
  )
}
