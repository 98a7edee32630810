import { seededNumbers } from '@/kit/wood'
import type { Schemas } from '@/api/client'

export type MarkPicture = Schemas['MarkPicture']
export type MarkShape = Schemas['MarkShape']

/** A surface, pixel by pixel, before any lamp: what it is lit as is worked out from it each time the lamp moves. */
export interface Surface {
  width: number
  height: number
  /** Brightness 0 to 1 of each of three colours. */
  albedo: Float32Array
  /** 0 dull to 1 shiny. */
  gloss: Float32Array
  /** How far it stands up, in pixels. */
  relief: Float32Array
}

const WOOD = [0.83, 0.69, 0.52] as const
const GLASS = [0.8, 0.85, 0.86] as const
const CLOTH = [0.9, 0.9, 0.88] as const
const RING = 0.1
/** A raised ring stands up by so many pixels for each of the picture's width. */
const RELIEF = 0.009

/** Smooth noise from 0 to 1, repeatable, stretched along the grain by `along`. */
function noiseOf(seed: number): (x: number, y: number) => number {
  const next = seededNumbers(String(seed))
  const table = Float32Array.from({ length: 4096 }, () => next())
  const at = (x: number, y: number) => table[((x & 63) << 6) | (y & 63)] ?? 0
  return (x, y) => {
    const [left, top] = [Math.floor(x), Math.floor(y)]
    const [u, v] = [smooth(x - left), smooth(y - top)]
    const upper = at(left, top) * (1 - u) + at(left + 1, top) * u
    const lower = at(left, top + 1) * (1 - u) + at(left + 1, top + 1) * u
    return upper * (1 - v) + lower * v
  }
}
const smooth = (t: number) => t * t * (3 - 2 * t)
const clamp = (value: number, low = 0, high = 1) => Math.min(high, Math.max(low, value))
/** 1 inside, 0 outside, soft between. */
const soft = (distance: number, edge: number) => smooth(clamp(0.5 - distance / edge))

/** How much of a shape lies at a place, 0 to 1; x and y in widths of the picture. */
function coverOf(shape: MarkShape): (x: number, y: number) => number {
  const noise = noiseOf(shape.figure)
  const { x: cx, y: cy, r } = shape
  const wobble = (x: number, y: number) => 0.06 * r * (noise(x * 22, y * 22) - 0.5)
  const away = (x: number, y: number) => Math.hypot(x - cx, y - cy)
  switch (shape.shape) {
    case 'disc':
      return (x, y) => soft(away(x, y) + wobble(x, y) - r, 0.025) * (0.85 + 0.3 * noise(x * 30, y * 30))
    case 'ring':
      return (x, y) => soft(Math.abs(away(x, y) + wobble(x, y) - r) - RING * r, 0.018)
    case 'drop':
      // Round on top: its height is that of a cap.
      return (x, y) => Math.sqrt(clamp(1 - (away(x, y) / r) ** 2))
    case 'dots': {
      const next = seededNumbers(`dots ${shape.figure}`)
      const dots = Array.from({ length: 34 }, () => {
        const [turn, out] = [2 * Math.PI * next(), r * Math.sqrt(next())]
        return [cx + out * Math.cos(turn), cy + out * Math.sin(turn), 0.006 + 0.011 * next()] as const
      })
      return (x, y) => {
        let found = 0
        for (const [dx, dy, size] of dots)
          if (Math.abs(x - dx) < size && Math.abs(y - dy) < size)
            found = Math.max(found, Math.sqrt(clamp(1 - ((x - dx) ** 2 + (y - dy) ** 2) / size ** 2)))
        return found
      }
    }
    case 'fibres':
      return (x, y) => soft(away(x, y) - r, 0.05) * smooth(clamp(2.2 * noise(x * 16, y * 230) - 0.9))
    case 'streaks':
      return (x, y) => soft(away(x, y) - r, 0.08) * smooth(clamp(2.4 * noise(x * 1.5, y * 42) - 0.8))
    case 'patches':
      return (x, y) => soft(away(x, y) - r, 0.06) * smooth(clamp(3 * noise(x * 11, y * 14) - 1.1))
    case 'cracks':
      return (x, y) =>
        soft(away(x, y) - r, 0.05) *
        (Math.abs(noise(x * 7, y * 12) - 0.5) < 0.02 + 0.01 * noise(x * 60, y * 60) ? 1 : 0)
    case 'edge':
      return (x, y) => soft(Math.abs(x - cx + 0.02 * (noise(3, y * 14) - 0.5)) - r / 2, 0.012)
    case 'print':
      // The lines of a finger.
      return (x, y) =>
        soft(Math.hypot((x - cx) * 1.25, y - cy) - r, 0.03) *
        smooth(
          0.5 +
            0.5 *
              Math.sin(150 * Math.hypot(x - cx + 0.03, (y - cy) * 0.8 + 0.02) + 3 * noise(x * 12, y * 12)),
        )
    case 'stroke':
      return (x, y) =>
        Math.abs(y - cy) < r ? soft(Math.abs(x - cx + 0.008 * (noise(5, y * 9) - 0.5)) - 0.006, 0.006) : 0
    case 'cloth':
      return () => 1
    default:
      return () => 0
  }
}

/** Lay a picture out as a surface of so many pixels. */
export function layOut(picture: MarkPicture, width: number, height: number): Surface {
  const n = width * height
  const surface: Surface = {
    width,
    height,
    albedo: new Float32Array(3 * n),
    gloss: new Float32Array(n).fill(picture.gloss),
    relief: new Float32Array(n),
  }
  const isCloth = picture.shapes.some((shape) => shape.shape === 'cloth')
  const ground = isCloth ? CLOTH : picture.ground === 'glass' ? GLASS : WOOD
  const grain = noiseOf(picture.figure)
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      const [x, y, at] = [i / width, j / width, j * width + i]
      const line =
        picture.ground === 'wood' && !isCloth
          ? 0.14 * (grain(x * 3, y * 46) - 0.5) + 0.06 * (grain(x * 9 + 40, y * 150) - 0.5)
          : isCloth
            ? 0.05 * (((i >> 1) + (j >> 1)) % 2)
            : 0
      for (let c = 0; c < 3; c++) surface.albedo[3 * at + c] = clamp((ground[c] ?? 0) + line)
      // Pores break the sheen a little, in a film too.
      surface.relief[at] = picture.ground === 'wood' ? 0.12 * grain(x * 14, y * 200) : 0
    }
  for (const shape of picture.shapes) lay(surface, shape)
  return surface
}

function lay(surface: Surface, shape: MarkShape): void {
  const { width, height, albedo, gloss, relief } = surface
  const cover = coverOf(shape)
  const noise = noiseOf(shape.figure + 1)
  const isRub = shape.shape === 'cloth'
  const target = shape.colour < 0 ? 0.12 : 1
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      const [x, y, at] = [i / width, j / width, j * width + i]
      // What a cloth took up lies in the middle of it, where the finger pressed.
      const share = isRub
        ? clamp(1.2 - 3.2 * Math.hypot(x - 0.5, y - 0.31)) * (0.6 + 0.6 * noise(x * 20, y * 20))
        : cover(x, y)
      if (share <= 0) continue
      const tint = clamp(Math.abs(shape.colour) * share)
      for (let c = 0; c < 3; c++) {
        const own = albedo[3 * at + c] ?? 0
        albedo[3 * at + c] = own + (target - own) * tint
      }
      gloss[at] = clamp((gloss[at] ?? 0) + shape.gloss * share)
      relief[at] =
        (relief[at] ?? 0) + shape.height * share * RELIEF * width * (shape.shape === 'drop' ? 4 : 1)
    }
}
