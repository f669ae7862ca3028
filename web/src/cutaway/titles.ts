/** What a part of the drawing is called where the mouse rests on it. */
import type { Shape } from './shapes'

const PARTS: Record<string, string> = {
  'outside bell': 'bell from outside',
  'outside base': 'base from outside',
  bell: 'bell, cut',
  ring: 'flux ring',
  tube: 'bearing tube',
  screw: 'mounting screw',
  bore: 'bore of the shaft',
}
export function titleOf(item: Shape): string {
  const name = PARTS[item.part] ?? (item.part.startsWith('magnet') ? 'magnet' : item.part)
  return item.assumed ? `${name}; not measured` : name
}
