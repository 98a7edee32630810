/** One value that is asked for, and what stands there; of a choice between two pieces `against` is the other's code. */
export interface Ask {
  response: string
  view: string
  against: string
  /** Of a choice: the other one is shown at the left. */
  isSwapped?: boolean
  value: number | null
  is_beyond: boolean
  /** The readings of an instrument of which it is the mean. */
  singles?: number[]
  note: string
}
