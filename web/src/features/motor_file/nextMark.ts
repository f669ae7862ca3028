/** The first free letter for a sample; beyond Z, numbers. */
export function nextMark(taken: string[]): string {
  const used = new Set(taken.map((mark) => mark.toUpperCase()))
  for (let code = 65; code <= 90; code++) {
    const letter = String.fromCharCode(code)
    if (!used.has(letter)) return letter
  }
  let number = 27
  while (used.has(String(number))) number++
  return String(number)
}
