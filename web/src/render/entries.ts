/** Categories as a legend lists them, and what a document says of each by its name.
 *
 * A document names a category by its value, which stays when the category is renamed. One that was
 * written before names it by its label.
 */
import type { ColourAnswer } from '@/api/types'

export interface CategoryEntry {
  value: string
  label: string
  /** Its place among the colour's categories. */
  code: number
}

export const entryOf = ({ categories, values }: ColourAnswer, code: number): CategoryEntry => ({
  // A shared page of before tells labels alone.
  value: values[code] ?? categories[code],
  label: categories[code],
  code,
})

export const entriesOf = (colour: ColourAnswer | null): CategoryEntry[] =>
  colour ? colour.categories.map((_, code) => entryOf(colour, code)) : []

type Named = Pick<CategoryEntry, 'value' | 'label'>

export const isNameOf = (name: string | null, { value, label }: Named): boolean =>
  name === value || name === label

/** What is said of a category; null where nothing is. */
export const ofEntry = <One>(said: Readonly<Record<string, One>>, entry: Named): One | null =>
  [entry.value, entry.label].flatMap((name) =>
    Object.hasOwn(said, name) ? [said[name]] : [],
  )[0] ?? null

export const withoutNameOf = <One>(said: Readonly<Record<string, One>>, entry: Named) =>
  Object.fromEntries(Object.entries(said).filter(([name]) => !isNameOf(name, entry)))

export const withEntry = <One>(said: Readonly<Record<string, One>>, entry: Named, one: One) => ({
  ...withoutNameOf(said, entry),
  [entry.value]: one,
})
