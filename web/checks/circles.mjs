/**
 * No module imports itself by any way round; a room imports only those before it, and so do the rooms
 * of `render`; a feature imports no other, except `study`, which puts them together. Types count too:
 * what knows a type knows its module. Nothing that shared pages use is made of our components over
 * Vuetify.
 */
import { readdirSync, readFileSync } from 'node:fs'
import process from 'node:process'
import { dirname, join, relative, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = resolve(dirname(fileURLToPath(import.meta.url)), '../src')
/** Each room may use those before it. */
const ROOMS = [
  'lib',
  'api',
  'render',
  'figure-model',
  'kinds',
  'plates',
  'stores',
  'canvas',
  'ui',
  'components',
  'features',
  'entries',
]
const RENDER_ROOMS = ['geometry', 'text', 'marks', 'placement', 'parts', 'layout', 'paint', 'files']
/** The feature that puts the others together. */
const SHELL = 'study'

const files = readdirSync(root, { recursive: true })
  .map(String)
  .filter((name) => /\.(ts|vue)$/.test(name) && !/\.test\.ts$|\.d\.ts$/.test(name))
const known = new Set(files)

const found = (name) =>
  [name, `${name}.ts`, `${name}.vue`, join(name, 'index.ts')].find((one) => known.has(one))

const importsOf = (file) =>
  [...readFileSync(join(root, file), 'utf8').matchAll(/(?:from|import\() ?'((?:@|\.)[^']*)'/g)]
    .map(([, said]) =>
      found(
        said.startsWith('@/') ? said.slice(2) : relative(root, resolve(root, dirname(file), said)),
      ),
    )
    .filter((name) => name !== undefined)

const edges = new Map(files.map((file) => [file, importsOf(file)]))
const faults = []
const state = new Map()

function walk(file, path) {
  if (state.get(file) === 'done') return
  if (state.get(file) === 'open') {
    faults.push(`a circle: ${[...path.slice(path.indexOf(file)), file].join(' → ')}`)
    return
  }
  state.set(file, 'open')
  for (const next of edges.get(file)) walk(next, [...path, file])
  state.set(file, 'done')
}
for (const file of files) walk(file, [])

const roomOf = (file) => ROOMS.indexOf(file.split('/')[0])
const renderRoomOf = (file) => RENDER_ROOMS.indexOf(file.match(/^render\/(\w+)\//)?.[1])
const featureOf = (file) => file.match(/^features\/(\w+)\//)?.[1]
for (const [file, used] of edges) {
  if (file.startsWith('testing/')) continue
  if (roomOf(file) < 0) faults.push(`${file} is in no room`)
  for (const other of used) {
    if (
      roomOf(other) > roomOf(file) ||
      (renderRoomOf(file) >= 0 && renderRoomOf(other) > renderRoomOf(file))
    )
      faults.push(`${file} uses ${other}, which is further on`)
    const feature = featureOf(file)
    if (feature && feature !== SHELL && featureOf(other) && featureOf(other) !== feature)
      faults.push(`${file} uses ${other}, which is another feature`)
  }
}

/** Shared pages are made without Vuetify: a component over it would stand there as dead words. */
const VIEWER = 'entries/viewer/main.ts'
const reached = new Map([[VIEWER, [VIEWER]]])
for (const [file, path] of reached)
  for (const next of edges.get(file)) if (!reached.has(next)) reached.set(next, [...path, next])
for (const [file, path] of reached)
  if (/^ui\/.*\.vue$/.test(file)) faults.push(`on shared pages: ${path.join(' → ')}`)

for (const fault of faults) console.error(fault)
process.exit(faults.length ? 1 : 0)
