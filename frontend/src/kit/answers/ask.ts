/** One value that is asked for, and what stands there; of a choice between two pieces `against` is the other's code. */
export interface Ask {
  response: string
  view: string
  against: string
  value: number | null
  is_beyond: boolean
  note: string
}
