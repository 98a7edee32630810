import type { Surface } from './surface'

/** Where the lamp stands: how high over the surface, 90° square on and 8° glancing, and from which side, 0° from the right. */
export interface Lamp {
  elevation: number
  azimuth: number
}
export const SQUARE_ON: Lamp = { elevation: 90, azimuth: 0 }
export const GLANCING: Lamp = { elevation: 12, azimuth: 20 }
export const LOWEST = 8
export const HIGHEST = 90

/**
 * Light a surface: what is diffuse follows the slope towards the lamp (Lambert), and the mirror's share grows towards glancing as
 * (1 - sin)², as the core reckons with it (src/nublet/core/simulation/marks.py, seen_at). Eye and lamp stand opposite each other.
 */
export function shade(surface: Surface, lamp: Lamp, pixels: Uint8ClampedArray): void {
  const { width, height, albedo, gloss, relief } = surface
  const elevation = (clamp(lamp.elevation, LOWEST, HIGHEST) * Math.PI) / 180
  const azimuth = (lamp.azimuth * Math.PI) / 180
  const sine = Math.sin(elevation)
  // What a slope of one does to the light, by how low the lamp stands.
  const slant = Math.min(1, Math.cos(elevation) / Math.max(sine, 0.1) / 4) * 1.1
  const [lx, ly] = [Math.cos(azimuth) * slant, -Math.sin(azimuth) * slant]
  const glance = (1 - sine) ** 2
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      const at = j * width + i
      const dx =
        (relief[j * width + Math.min(i + 1, width - 1)] ?? 0) - (relief[j * width + Math.max(i - 1, 0)] ?? 0)
      const dy =
        (relief[Math.min(j + 1, height - 1) * width + i] ?? 0) - (relief[Math.max(j - 1, 0) * width + i] ?? 0)
      // What leans towards the lamp is brighter, what falls away from it darker.
      const slope = -(dx * lx + dy * ly) / 2
      const diffuse = clamp(1 + slope, 0.45, 1.5)
      // The mirror's light: a broad sheen that lies towards the lamp, broken where the surface turns away.
      const away = ((i / width - 0.5) * Math.cos(azimuth) - (j / width - 0.31) * Math.sin(azimuth)) * 1.2
      const shine = (gloss[at] ?? 0) * glance * (0.62 + 0.3 * away) * clamp(1 - 1.6 * Math.abs(slope), 0, 1)
      const spot = squareSpot(i / width, j / width, gloss[at] ?? 0, dx, dy, sine)
      for (let c = 0; c < 3; c++)
        pixels[4 * at + c] =
          255 * clamp((albedo[3 * at + c] ?? 0) * diffuse * (1 - 0.25 * glance) + shine + spot)
      pixels[4 * at + 3] = 255
    }
}

/** Square on a shiny surface shows the lamp itself, small and bright the shinier it is; a drop shows it on its flank. */
function squareSpot(x: number, y: number, gloss: number, dx: number, dy: number, sine: number): number {
  if (gloss < 0.15 || sine < 0.5) return 0
  const [u, v] = [x - 0.2 - dx * 0.16, y - 0.14 - dy * 0.16]
  const size = 0.012 + 0.1 * (1 - gloss)
  return 0.55 * gloss * gloss * Math.exp(-(u * u + v * v) / (2 * size * size)) * (sine - 0.5) * 2
}

function clamp(value: number, low = 0, high = 1): number {
  return Math.min(high, Math.max(low, value))
}
