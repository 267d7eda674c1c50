/** What the declarations let a person set is what the server's models take. */
import { readFileSync } from 'node:fs'
import { Ajv2020 } from 'ajv/dist/2020'
import { describe, expect, it } from 'vitest'
import { plateControls, type PlateScope } from '@/plates/controls'
import { change, type AnyScope, type Control } from './control'
import { all, full, fullPlate, scopeOf, shown, values } from './testing'

interface Schema {
  $ref?: string
  anyOf?: Schema[]
  oneOf?: Schema[]
  enum?: unknown[]
  properties?: Record<string, Schema>
  additionalProperties?: Schema
  items?: Schema
}

const openapi = JSON.parse(
  readFileSync(new URL('../../../../build/openapi.json', import.meta.url), 'utf8'),
) as { components: { schemas: Record<string, Schema> } }

const ajv = new Ajv2020({ strict: false, formats: { uuid: true, 'date-time': true } })
ajv.addSchema(openapi, 'api')
const isTaken = ajv.getSchema('api#/components/schemas/FigureDocument')!
const isPlate = ajv.getSchema('api#/components/schemas/PlateDocument')!

/** All that a schema can be, alternatives and references followed. */
function branches(schema: Schema): Schema[] {
  if (schema.$ref) return branches(openapi.components.schemas[schema.$ref.split('/').pop()!])
  const inner = [...(schema.anyOf ?? []), ...(schema.oneOf ?? [])]
  return inner.length ? inner.flatMap(branches) : [schema]
}

/** The words that a model knows for a place in a document. */
function wordsAt(path: string): unknown[] {
  let held = branches({ $ref: 'FigureDocument' })
  for (const key of path.split('.'))
    held = held.flatMap((one) => {
      const next = one.properties?.[key] ?? one.items ?? one.additionalProperties
      return next ? branches(next) : []
    })
  return held.flatMap((one) => one.enum ?? [])
}

const named = all.map(({ control }) => [shown(control), control] as const)
const choices = named.filter(
  (one): one is readonly [string, Extract<Control, { kind: 'choice' }>] =>
    one[1].kind === 'choice' && wordsAt(one[1].at).length > 0,
)

/** A word that needs a variable as well, which this list has no place to ask for. */
const ASKED_ELSEWHERE = new Set(['variable'])

/** What is wrong, for the server, with a document in which a control was set, by what it was set to. */
function refused<S extends AnyScope>(
  control: Control<S>,
  scope: S,
  judge: typeof isTaken,
): Record<string, unknown> {
  const typed = control.kind === 'place' ? [-5, 0, 0.5, 1e9] : []
  const found: Record<string, unknown> = {}
  for (const value of [...values(control, scope), ...typed]) {
    // What is refused at its field does not reach the document.
    if (control.kind === 'place' && control.check?.(value as number | null, scope)) continue
    const draft = structuredClone(scope.document)
    change(control, scope, value)(draft)
    if (!judge(draft)) found[String(value)] = judge.errors
  }
  return found
}

describe('what a control allows', () => {
  it.each(named)('%s makes documents that the server takes', (_, control) => {
    expect(refused(control, scopeOf(full()), isTaken)).toEqual({})
  })

  it.each(plateControls(fullPlate()).map((control) => [shown(control), control] as const))(
    '%s makes plates that the server takes',
    (_, control) => {
      const scope: PlateScope = { document: fullPlate(), headings: [] }
      expect(refused(control, scope, isPlate)).toEqual({})
    },
  )

  it.each(choices)('%s offers every word that the model knows', (_, { at, options }) => {
    const offered = new Set<unknown>(options.map(({ value }) => value))
    const left = wordsAt(at).filter(
      (word) => !offered.has(word) && !ASKED_ELSEWHERE.has(word as string),
    )
    expect(left).toEqual([])
  })
})
