import { describe, expect, it } from 'vitest'
import { EMPTY_DRAFT, fieldsOf, missingNumber } from './model'

describe('a trial draft', () => {
  it('says which number is missing', () => {
    expect(missingNumber(EMPTY_DRAFT)).toBeNull()
    expect(missingNumber({ ...EMPTY_DRAFT, margin_mm: null })).toBe('Fill in the margin.')
  })
  it('is sent as it is shown, 0 included', () => {
    expect(fieldsOf({ ...EMPTY_DRAFT, boards_per_species: 0 }).boards_per_species).toBe(0)
  })
})
