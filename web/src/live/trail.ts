/** The last stretch of live values, for the chart of the bench. */
export type Values = Record<string, number>

export interface TrailPoint {
  time_s: number
  values: Values
}

export const TRAIL_S = 900
/** A long run is drawn from fewer points; its figures come from every sample at the stand. */
const MOST_POINTS = 4000

/** Append a frame's values; time that goes backward means the stand began anew. */
export function extendTrail(trail: TrailPoint[], time_s: number, values: Values): TrailPoint[] {
  const last = trail.at(-1)
  if (last && time_s < last.time_s) return [{ time_s, values }]
  if (last && time_s === last.time_s) return trail
  const kept = trail.filter((point) => point.time_s >= time_s - TRAIL_S)
  kept.push({ time_s, values })
  if (kept.length <= MOST_POINTS) return kept
  const half = kept.length / 2
  return kept.filter((_, i) => i >= half || i % 2 === 0)
}

/** [x, y] pairs of one channel since a time; missing values leave a gap. */
export function channelOf(
  trail: TrailPoint[],
  name: string,
  since_s: number,
): [number, number | null][] {
  return trail
    .filter((point) => point.time_s >= since_s)
    .map((point) => [point.time_s - since_s, point.values[name] ?? null])
}
