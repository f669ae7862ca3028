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
