/** Files that are made in the browser: a table as CSV, a drawing as SVG. */

/** Give a text to be kept as a file. */
export function saveText(name: string, text: string, type: string): void {
  const url = URL.createObjectURL(new Blob([text], { type }))
  const link = document.createElement('a')
  link.href = url
  link.download = name
  link.click()
  URL.revokeObjectURL(url)
}

/** A cell of a table; what a spreadsheet would run is guarded, as in the exports of the server. */
function cellText(value: string | number | boolean | null | undefined): string {
  const text = value == null ? '' : String(value)
  const guarded = typeof value === 'string' && /^[=+\-@\t\r']/.test(text) ? `'${text}` : text
  return /[",\n\r]/.test(guarded) ? `"${guarded.replaceAll('"', '""')}"` : guarded
}

/** Rows as CSV, the header first. */
export function csvText(
  header: readonly string[],
  rows: readonly (readonly (string | number | boolean | null | undefined)[])[],
): string {
  return [header, ...rows].map((row) => row.map(cellText).join(',')).join('\n') + '\n'
}

const KEPT = [
  'fill',
  'stroke',
  'stroke-width',
  'stroke-dasharray',
  'opacity',
  'font-family',
  'font-size',
  'font-weight',
  'text-anchor',
] as const

/** A drawing as it is seen, with its styles in it, so that it stands by itself. */
export function svgText(svg: SVGSVGElement): string {
  const copy = svg.cloneNode(true) as SVGSVGElement
  const seen = [svg, ...svg.querySelectorAll('*')]
  const copied = [copy, ...copy.querySelectorAll('*')]
  seen.forEach((element, index) => {
    const style = getComputedStyle(element)
    const own = copied[index]
    if (!own) return
    own.removeAttribute('class')
    own.setAttribute('style', KEPT.map((name) => `${name}:${style.getPropertyValue(name)}`).join(';'))
  })
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg')
  return `<?xml version="1.0" encoding="UTF-8"?>\n${copy.outerHTML}\n`
}
