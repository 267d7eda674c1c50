/** Pages of the guide, from Markdown to HTML whose links stay inside the app. */
import MarkdownIt from 'markdown-it'

export interface Section {
  /** Name of the page. */
  page: string
  /** Where on it; empty for its beginning. */
  anchor: string
  title: string
}

/** Name an anchor as repositories do: "May I extrapolate?" is may-i-extrapolate. */
export const slugOf = (heading: string): string =>
  heading
    .toLocaleLowerCase()
    .replace(/[^\p{L}\p{N}\s-]/gu, '')
    .trim()
    .replaceAll(/\s/g, '-')

/** Name a page by its file: ../guide/05-trends.md is trends, and the contents are empty. */
export const pageOf = (file: string): string =>
  file
    .replace(/^.*\//, '')
    .replace(/\.md$/, '')
    .replace(/^\d+-/, '')
    .replace(/^README$/, '')

/** Where a link between files of the documentation leads inside the app, from a page of the guide. */
export function addressOf(link: string, from: string): string {
  const [file, anchor] = link.split('#')
  const address = `/guide/${file ? pageOf(file) : from}`.replace(/\/$/, '')
  return anchor ? `${address}#${anchor}` : address
}

/** Only this project's own pages come through here, and no HTML in them is passed on. */
const markdown = new MarkdownIt({ html: false, linkify: false })

markdown.renderer.rules.heading_open = (tokens, at, options, _, self) => {
  tokens[at].attrSet('id', slugOf(tokens[at + 1].content))
  return self.renderToken(tokens, at, options)
}
markdown.renderer.rules.table_open = () => '<div class="guide__table" tabindex="0"><table>'
markdown.renderer.rules.table_close = () => '</table></div>'

/** Render a page; `pictures` says where each picture is, by its file name. */
export function htmlOf(
  { name, source }: { name: string; source: string },
  pictures: Record<string, string>,
): string {
  const tokens = markdown.parse(source.replaceAll(/<!--.*?-->/gs, ''), {})
  for (const { children } of tokens)
    for (const token of children ?? []) {
      if (token.type === 'link_open')
        token.attrSet('href', addressOf(token.attrGet('href') ?? '', name))
      if (token.type === 'image') {
        const file = (token.attrGet('src') ?? '').replace(/^.*\//, '')
        token.attrSet('src', pictures[file] ?? '')
        token.attrSet('loading', 'lazy')
      }
    }
  return markdown.renderer.render(tokens, markdown.options, {})
}

/** The page itself and each of its headings, as what can be looked for. */
export function sectionsOf(page: string, source: string): Section[] {
  const tokens = markdown.parse(source, {})
  return tokens.flatMap(({ type, tag }, at): Section[] => {
    if (type !== 'heading_open') return []
    const title = tokens[at + 1].content
    return [{ page, anchor: tag === 'h1' ? '' : slugOf(title), title }]
  })
}
