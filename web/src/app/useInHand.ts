/** The motor in hand: what the spindle's rings show and what pages offer first. */
import { useLocalStorage } from '@vueuse/core'

const inHand = useLocalStorage<number | null>('spindle.motor-in-hand', null, {
  serializer: {
    read: (text) => (/^\d+$/.test(text) ? Number(text) : null),
    write: (value) => String(value ?? ''),
  },
})

export function useInHand() {
  return inHand
}
