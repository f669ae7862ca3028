/** A password that nobody has to think up: four groups, 80 bits. */
const SIGNS = 'abcdefghjkmnpqrstuvwxyz23456789'

export function madeUp(random: (bytes: Uint8Array) => Uint8Array = fill): string {
  const signs: string[] = []
  while (signs.length < 16) {
    // Bytes beyond the last whole round of signs would make some of them likelier.
    const whole = 256 - (256 % SIGNS.length)
    for (const byte of random(new Uint8Array(32)))
      if (byte < whole && signs.length < 16) signs.push(SIGNS[byte % SIGNS.length] as string)
  }
  return [0, 4, 8, 12].map((at) => signs.slice(at, at + 4).join('')).join('-')
}

function fill(bytes: Uint8Array): Uint8Array {
  return crypto.getRandomValues(bytes as Uint8Array<ArrayBuffer>)
}
