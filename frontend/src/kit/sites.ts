/** How the sites of a panel are drawn: rings, boxes, and tabs for what takes the whole face. */

export interface Site {
  kind?: string
  label: string
  along_mm?: number
  across_mm?: number
}

export type SiteShape = 'ring' | 'box' | 'tab'

export function siteShape(kind: string | undefined): SiteShape {
  if (!kind || kind === 'spot') return 'ring'
  return kind === 'panel' || kind === 'slip' ? 'tab' : 'box'
}

/** The box of a strip, a part or an end piece about its middle, mm; an end piece stands right of its panel. */
export function siteBox(site: Site, lengthMm: number) {
  const across = site.across_mm ?? 0
  if (site.kind === 'end') return { x: Math.min(8, lengthMm / 20), y: -across / 2, width: 16, height: across }
  const along = site.along_mm ?? 0
  return { x: -along / 2, y: -across / 2, width: along, height: across }
}

export interface Tab<Spot> {
  spot: Spot
  x: number
  y: number
  width: number
}

export const TAB_ROW = 20
const LETTER = 4.6
const ROOM = 34

/** Tabs side by side above a panel, in as many rows as it takes; `unit` is how much larger the text is than on 400 mm. */
/** What stands on a tab: its name, and what was read there. */
function textOf(spot: Site & { grade?: number | null; words?: string }): string {
  return `${spot.label}${spot.grade != null ? ' 5.0' : spot.words ? ` ${spot.words}` : ''}`
}

export function layTabs<Spot extends Site>(
  spots: readonly Spot[],
  lengthMm: number,
  unit: number,
): { laid: Tab<Spot>[]; rows: number } {
  const laid: Tab<Spot>[] = []
  let row = 0
  let x = 0
  for (const spot of spots) {
    const width = Math.min(lengthMm, (textOf(spot).length * LETTER + ROOM) * unit)
    if (x > 0 && x + width > lengthMm) {
      row += 1
      x = 0
    }
    laid.push({ spot, x, y: row, width })
    x += width + 4 * unit
  }
  const rows = laid.length ? row + 1 : 0
  return { laid: laid.map((tab) => ({ ...tab, y: -(rows - tab.y) * TAB_ROW * unit })), rows }
}

interface Placed extends Site {
  x_mm: number
  y_mm: number
  diameter_mm: number
}

/**
 * A ring's label as it is written below it: in one line, or in two where it would run into the label of the ring beside it.
 * "Ethanol 10 min" is split before its figure.
 */
export function labelLines(spot: Placed, spots: readonly Placed[], unit: number): string[] {
  const beside = spots
    .filter((each) => each !== spot && Math.abs(each.y_mm - spot.y_mm) < spot.diameter_mm / 2)
    .map((each) => Math.abs(each.x_mm - spot.x_mm))
  if (spot.label.length * LETTER * unit < Math.min(...beside)) return [spot.label]
  const at = spot.label.search(/ \d/)
  return at > 0 ? [spot.label.slice(0, at), spot.label.slice(at + 1)] : [spot.label]
}
