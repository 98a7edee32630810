/** A look in a sentence: "look: at lifting", "look: 24 h". */
export function lookWords(name: string): string {
  return `look: ${name.slice(0, 1).toLowerCase()}${name.slice(1)}`
}
