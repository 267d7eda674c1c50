/** The files of the fonts as the page fetches them. */
import { FontFiles, type FontSource } from './fonts'

const FOUND: Record<string, string> = import.meta.glob(
  [
    '/node_modules/@fontsource-variable/source-*/files/source-*-wght-normal.woff2',
    '/node_modules/@fontsource/source-*/files/source-*-{400,600}-normal.woff',
  ],
  { eager: true, query: '?url', import: 'default' },
)

const URLS = new Map(Object.entries(FOUND).map(([path, url]) => [path.split('/').at(-1)!, url]))

export const PAGE_FONTS: FontSource = {
  files: new FontFiles([...URLS.keys()]),
  read: async (name) => new Uint8Array(await (await fetch(URLS.get(name)!)).arrayBuffer()),
}
