import type { Trial } from './model'

/** A trial's design as it begins, for the tests. */
export const TRIAL = {
  boards_per_species: 4,
  panel_length_mm: 400,
  panel_width_mm: 150,
  margin_mm: 15,
  sections: [],
  pairs: [],
  stages: [],
  kerf_mm: 3,
  end_trim_mm: 20,
  end_piece_mm: 0,
  faces: 'front',
  panels_each: 1,
  slip_replicates: 3,
  ladders: 'together',
  exposing: 'together',
  arrangement: 'auto',
  block_size: null,
  sd: null,
} as unknown as Trial
