/** The guide holds together: every link, picture and passage that is named is there. */
import { describe, expect, it } from 'vitest'
import { finder } from '@/features/commands/entries'
import { OF_CAUTIONS, OF_NUMBERS, OF_PANELS, OF_SECTIONS } from '@/lib/guide-links'
import { addressOf, htmlOf, pageOf, sectionsOf, slugOf } from '@/lib/markdown'
import { PAGES, PICTURES, SECTIONS } from '@/lib/guide-pages'

const places = new Set(SECTIONS.map(({ page, anchor }) => `${page}#${anchor}`))
const linksOf = (html: string): string[] =>
  [...html.matchAll(/href="([^"]*)"/g)].map(([, address]) => address)

describe('the guide', () => {
  it('has thirteen pages in order, and the register', () => {
    expect(PAGES.map(({ name }) => name)).toEqual([
      'two-minutes',
      'your-table',
      'choosing-variables',
      'readable',
      'trends',
      'reading-off',
      'matrices',
      'three-axes-and-distributions',
      'comparing',
      'exporting-and-sharing',
      'command-line-and-python',
      'very-large-data',
      'questions',
      'statistics',
    ])
    expect(SECTIONS.filter(({ page }) => page === 'questions')).toHaveLength(41)
  })

  it.each(PAGES.map((page) => [page.name, page] as const))('%s names what is there', (_, shown) => {
    const html = htmlOf(shown, PICTURES)
    for (const link of linksOf(html)) {
      const [page, anchor = ''] = link.replace('/guide/', '').split('#')
      expect(places, link).toContain(`${page}#${decodeURIComponent(anchor)}`)
    }
    expect(html).not.toContain('src=""')
    expect(html).not.toMatch(/<script|javascript:/)
  })

  it('has every passage that a panel, a number or a caution leads to', () => {
    const of = [OF_PANELS, OF_SECTIONS, OF_NUMBERS].flatMap((one) => Object.values(one))
    for (const passage of [...of, OF_CAUTIONS]) expect(places).toContain(passage)
  })

  it('has a passage for every section of controls', () => {
    const sources = import.meta.glob<string>('../**/*.vue', {
      eager: true,
      query: '?raw',
      import: 'default',
    })
    const headings = Object.values(sources).flatMap((source) =>
      [...source.matchAll(/<UiSection heading="([^"]*)"/g)].map(([, heading]) => heading),
    )
    expect(headings.length).toBeGreaterThan(10)
    for (const heading of headings) expect(Object.keys(OF_SECTIONS)).toContain(heading)
  })

  it('has no heading twice on a page', () => {
    expect(places.size).toBe(SECTIONS.length)
  })

  it('is found in words of one’s own', () => {
    const find = finder({
      acts: [],
      figures: [],
      guide: SECTIONS.map((section) => ({ ...section, open: () => section.anchor })),
    })
    for (const [typed, title] of [
      ['why is my r squared low', 'Why is my R² low?'],
      ['exclude a point', 'May I exclude this point?'],
      ['error bars', 'Which error bars?'],
      ['band widens', 'Why does the band widen at the ends?'],
    ])
      expect(
        find(typed)
          .slice(0, 2)
          .map(({ label }) => label),
      ).toContain(title)
  })
})

describe('names', () => {
  it('of anchors are those of repositories', () => {
    expect(slugOf('May I extrapolate?')).toBe('may-i-extrapolate')
    expect(slugOf('x and y')).toBe('x-and-y')
    expect(slugOf('What does p < 0.05 mean?')).toBe('what-does-p--005-mean')
  })

  it('of pages are those of their files', () => {
    expect(pageOf('../guide/05-trends.md')).toBe('trends')
    expect(addressOf('13-questions.md#a-b', '')).toBe('/guide/questions#a-b')
    expect(addressOf('README.md', 'p')).toBe('/guide')
    expect(addressOf('#a', 'p')).toBe('/guide/p#a')
  })

  it('of sections are their headings', () => {
    expect(sectionsOf('p', '# One\n\n## Two *three*\n')).toEqual([
      { page: 'p', anchor: '', title: 'One' },
      { page: 'p', anchor: 'two-three', title: 'Two *three*' },
    ])
  })
})
