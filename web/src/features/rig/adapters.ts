/** The sizes of an adapter in a line. */
import type { Schemas } from '@/api/client'

type Sizes = Partial<Schemas['Adapter']>
const mm = (value: number | null | undefined) => `${value ?? '?'}\u202fmm`

function stud(row: Sizes): string {
  const nut = row.nut_mm == null ? 'nut not measured' : `nut ${mm(row.nut_mm)}`
  const washer = row.washer_mm ? `, washer ${mm(row.washer_mm)}` : ''
  return `stud ${mm(row.stud_mm)}, ${mm(row.free_length_mm)} free, ${nut}${washer}`
}

export function adapterSizes(row: Sizes): string {
  if (row.kind === 'ring')
    return `over ${mm(row.inner_mm)}, into ${mm(row.outer_mm)}, ${mm(row.height_mm)} high`
  if (row.kind === 'collet') {
    const grip = row.grip_mm == null ? 'grip not measured' : `grips ${mm(row.grip_mm)} deep`
    return `on shafts of ${row.least_mm ?? '?'} to ${mm(row.most_mm)}, ${grip}; ${stud(row)}`
  }
  const holes = `holes ${mm(row.hole_mm)} on a circle of ${mm(row.hole_circle_mm)}`
  if (row.kind === 'clamp_plate') return `over ${mm(row.inner_mm)}, ${holes}`
  const bore = row.inner_mm == null ? 'bore not measured' : `bore ${mm(row.inner_mm)}`
  return `${holes}, ${bore}; ${stud(row)}`
}
