/** The numbers above 0 of a list as an address holds it: "7,10". */
export function numbersIn(text: unknown): number[] {
  return String(text ?? '')
    .split(',')
    .map(Number)
    .filter((n) => n > 0)
}
