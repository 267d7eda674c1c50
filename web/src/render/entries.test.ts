import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { entriesOf, isNameOf, ofEntry, withEntry, withoutNameOf } from './entries'

const entry = fc
  .record({ value: fc.string(), label: fc.string() })
  .map((names) => ({ ...names, code: 0 }))

describe('what a document says of a category', () => {
  it('stands under its value, however it is called, and nothing else changes', () => {
    fc.assert(
      fc.property(fc.dictionary(fc.string(), fc.nat()), entry, fc.nat(), (said, one, told) => {
        const after = withEntry(said, one, told)
        expect(ofEntry(after, one)).toBe(told)
        expect(ofEntry(after, { ...one, label: `${one.label}, renamed` })).toBe(told)
        const others = (of: object) => Object.entries(of).filter(([name]) => !isNameOf(name, one))
        expect(others(after)).toEqual(others(said))
        expect(ofEntry(withoutNameOf(after, one), one)).toBeNull()
      }),
    )
  })

  it('is found under the label in a document of before, and its value goes first', () => {
    const one = { value: 'w', label: 'wax', code: 0 }
    expect(ofEntry({ wax: 1 }, one)).toBe(1)
    expect(ofEntry({ wax: 1, w: 2 }, one)).toBe(2)
    expect(withEntry({ wax: 1 }, one, 3)).toEqual({ w: 3 })
  })

  it('never comes from what every object has', () => {
    expect(ofEntry({}, { value: 'constructor', label: 'toString' })).toBeNull()
  })

  it('has an entry for each category, by its label where an old page tells no values', () => {
    const colour = { categories: ['wax', 'film'], values: ['w'] }
    expect(entriesOf(colour as never)).toEqual([
      { value: 'w', label: 'wax', code: 0 },
      { value: 'film', label: 'film', code: 1 },
    ])
    expect(entriesOf(null)).toEqual([])
  })
})
