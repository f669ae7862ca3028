/** Where a proposed next act is done. */
export function nextPath(station: string, motor: number): string {
  switch (station) {
    case 'intake':
      return `/intake/${motor}/claims`
    case 'teardown':
      return `/teardown?motor=${motor}`
    case 'bench':
      return `/bench?motor=${motor}`
    default:
      return `/compare?motor=${motor}`
  }
}
