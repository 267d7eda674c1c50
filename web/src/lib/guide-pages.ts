/** The pages of the guide, and the register of statistics, as they stand in docs/. */
import { pageOf, sectionsOf, type Section } from './markdown'

const sources = import.meta.glob<string>(
  ['../../../docs/guide/*.md', '../../../docs/statistics.md'],
  { query: '?raw', import: 'default', eager: true },
)
const pictureFiles = import.meta.glob<string>('../../../docs/screenshots/*.png', {
  query: '?url',
  import: 'default',
  eager: true,
})

export interface GuidePage {
  name: string
  title: string
  source: string
}

const byFile = Object.entries(sources).sort(([one], [other]) => one.localeCompare(other))

/** In the order in which they are read; the contents, which is README, are not among them. */
export const PAGES: readonly GuidePage[] = byFile
  .map(([file, source]) => ({
    name: pageOf(file),
    title: source.split('\n', 1)[0].replace(/^# /, '').split(':')[0],
    source,
  }))
  .filter(({ name }) => name)

/** Addresses of pictures by their file names. */
export const PICTURES: Record<string, string> = Object.fromEntries(
  Object.entries(pictureFiles).map(([file, address]) => [file.replace(/^.*\//, ''), address]),
)

/** Everything with a heading. */
export const SECTIONS: readonly Section[] = PAGES.flatMap(({ name, source }) =>
  sectionsOf(name, source),
)
