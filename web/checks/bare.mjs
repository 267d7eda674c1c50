/**
 * Bare elements where a component of `ui/` is meant, Vuetify outside `ui/`, and colours, sizes of
 * text and corners that are not tokens: counted by folder, and never more than stand in `bare.json`.
 */
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { dirname, join, resolve } from 'node:path'
import process from 'node:process'
import { fileURLToPath } from 'node:url'

const here = dirname(fileURLToPath(import.meta.url))
const root = resolve(here, '../src')
const kept = join(here, 'bare.json')

const COUNTED = {
  'bare elements': [
    /<template>[\s\S]*<\/template>/,
    /<(button|input|select|textarea|progress|details|table|dialog)\b/g,
  ],
  'Vuetify outside ui': [/<template>[\s\S]*<\/template>/, /<v-[a-z-]+/g],
  'colours in components': [/[\s\S]*/, /#[0-9a-f]{6}\b|rgba?\(/gi],
  'sizes and corners that are no tokens': [
    /<style[\s\S]*<\/style>/,
    /(?:font-size|border-radius):\s*[\d.]+px/g,
  ],
}

const found = {}
for (const name of readdirSync(root, { recursive: true }).map(String)) {
  if (!name.endsWith('.vue')) continue
  const parts = name.split('/')
  const folder = parts.slice(0, parts[0] === 'features' ? 2 : 1).join('/')
  const text = readFileSync(join(root, name), 'utf8')
  for (const [what, [where, each]] of Object.entries(COUNTED)) {
    if (folder === 'ui' && what === 'Vuetify outside ui') continue
    const count = (text.match(where)?.[0] ?? '').match(each)?.length ?? 0
    if (count) (found[what] ??= {})[folder] = (found[what][folder] ?? 0) + count
  }
}

if (process.argv.includes('--keep')) {
  writeFileSync(kept, `${JSON.stringify(found, null, 2)}\n`)
  process.exit(0)
}
const most = JSON.parse(readFileSync(kept, 'utf8'))
const faults = []
for (const what of Object.keys(COUNTED))
  for (const folder of new Set([
    ...Object.keys(found[what] ?? {}),
    ...Object.keys(most[what] ?? {}),
  ])) {
    const [now, then] = [found[what]?.[folder] ?? 0, most[what]?.[folder] ?? 0]
    if (now > then) faults.push(`${what} in ${folder}: ${now}, and at most ${then} are meant to be`)
    if (now < then)
      faults.push(`${what} in ${folder}: ${now} now; write it down with npm run house:keep`)
  }
for (const fault of faults) console.error(fault)
process.exit(faults.length ? 1 : 0)
