/** The stations of the work, in its order, along the spindle. */
export interface Station {
  key: string
  label: string
  path: string
  built: boolean
}

export const STATIONS: Station[] = [
  { key: 'intake', label: 'Intake', path: '/intake', built: true },
  { key: 'teardown', label: 'Teardown', path: '/teardown', built: true },
  { key: 'rig', label: 'Rig', path: '/rig', built: true },
  { key: 'plan', label: 'Plan', path: '/plan', built: true },
  { key: 'bench', label: 'Bench', path: '/bench', built: true },
  { key: 'runs', label: 'Runs', path: '/runs', built: true },
  { key: 'compare', label: 'Compare', path: '/compare', built: true },
  { key: 'rank', label: 'Rank', path: '/rank', built: true },
  { key: 'match', label: 'Match', path: '/match', built: true },
  { key: 'publish', label: 'Publish', path: '/publish', built: true },
]

/** The station a page belongs to; the import belongs to the runs, typed readings to the bench. */
export function stationOf(path: string): string {
  if (path.startsWith('/readings')) return 'bench'
  if (path.startsWith('/import')) return 'runs'
  if (path.startsWith('/motors')) return ''
  return STATIONS.find((station) => path.startsWith(station.path))?.key ?? ''
}

/** The built station before (−1) or after (+1) a page's, for the keys [ and ]. */
export function neighbour(path: string, step: 1 | -1): Station {
  const built = STATIONS.filter((station) => station.built)
  const here = built.findIndex((station) => station.key === stationOf(path))
  const start = here < 0 ? (step > 0 ? -1 : 0) : here
  const index = (start + step + built.length) % built.length
  return built[index] as Station
}

export interface Evidence {
  claims: number
  observations: number
  runs: number
  most_repeats: number
}

/** How full each ring is for a motor, 0 to 1; null where nothing can be said yet. */
export function ringFill(
  key: string,
  motor: Evidence | null,
  attributeCount: number,
): number | null {
  if (!motor) return null
  switch (key) {
    case 'intake':
      return Math.min(1, motor.claims / 4)
    case 'teardown':
      return attributeCount ? Math.min(1, motor.observations / attributeCount) : 0
    case 'bench':
      return Math.min(1, motor.most_repeats / 3)
    case 'runs':
      return Math.min(1, motor.runs / 3)
    case 'compare':
      return motor.runs ? 1 : 0
    default:
      return null
  }
}
