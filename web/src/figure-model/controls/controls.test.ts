import { readFileSync, writeFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { blankDocument } from '@/figure-model/blank'
import type { FigureDocument } from '@/api/types'
import { at } from '@/figure-model/path'
import { allControls } from '.'
import { plateControls } from '@/plates/controls'
import { keyList } from '@/figure-model/keys'
import { applies, change, undoKey, valueOf, type Control } from './control'
import { all, full, fullPlate, scopeOf, shown, values } from './testing'

/** What is left to Yarrowdew reads as what Yarrowdew made of it. */
const FILLED = new Set(['page.width', 'page.height', 'error_bars.x.amount', 'error_bars.y.amount'])
/** What the answer says, where there is one. */
const ANSWERED = new Set(['colour.scale'])

const HEADS = '| control | its place in the document | also found by |\n| --- | --- | --- |'
const line = ({ label, at: where, find }: Pick<Control, 'label' | 'find'> & { at: string }) =>
  `| ${label} | \`${where}\` | ${find ?? ''} |`

describe('the controls of a figure', () => {
  it.each(all.map(({ control }) => [shown(control), control] as const))(
    '%s shows what it was set to, and changes nothing but its own part',
    (_, control) => {
      const scope = scopeOf(full())
      for (const value of values(control, scope)) {
        if (value === null && FILLED.has(control.at)) continue
        const draft = structuredClone(scope.document)
        change(control, scope, value)(draft)
        const now = valueOf(control, scopeOf(draft))
        if (!ANSWERED.has(control.at)) expect(now).toEqual(value)
        const part = control.at.split('.')[0]
        const others = (document: FigureDocument) => ({ ...document, [part]: null })
        // A venue sets the page, its text and its marks together.
        if (control.at !== 'page.venue') expect(others(draft)).toEqual(others(scope.document))
      }
    },
  )

  it('stand at places that a document has', () => {
    for (const { control } of all) expect(at(full(), control.at), control.at).not.toBeUndefined()
  })

  it('have one label each in their panel, so that each can be named', () => {
    for (const part of new Set(all.map((one) => one.part))) {
      const labels = all.filter((one) => one.part === part).map(({ control }) => control.label)
      const doubled = labels.filter((label, i) => labels.indexOf(label) !== i)
      expect(doubled, part).toEqual([])
    }
  })

  it('say why they do not apply, where they do not', () => {
    const plain = scopeOf(blankDocument('t', 'x', 'y'))
    const off = allControls(plain.document).filter(({ control }) => !applies(control, plain))
    expect(off.length).toBeGreaterThan(15)
    for (const { control } of off) expect(control.off!(plain)).toMatch(/^[A-Z].*\.$/)
  })

  it('make one step of undo of a movement, and one of every choice', () => {
    const one = (path: string) => all.find(({ control }) => control.at === path)!.control
    expect(undoKey(one('marks.size'))).not.toBe('')
    expect(undoKey(one('marks.hollow'))).toBe('')
    expect(undoKey(one('axes.x.title'))).not.toBe(undoKey(one('axes.y.title')))
  })

  it('are listed in docs/controls.md', () => {
    const file = new URL('../../../../docs/controls.md', import.meta.url)
    const panels = [...new Set(all.map(({ panel }) => panel))]
    const text = [
      '# Every control of a figure',
      '',
      'Made from the declarations in `web/src/figure-model/controls/`; `npm run controls` writes it anew.',
      ...panels.flatMap((panel) => [
        '',
        `## ${panel}`,
        '',
        HEADS,
        ...all.filter((one) => one.panel === panel).map(({ control }) => line(control)),
      ]),
      '',
      '## Plate',
      '',
      HEADS,
      ...plateControls(fullPlate()).map((control) => line(control)),
      '',
      '# Keys',
      '',
      'Made from `web/src/figure-model/keys.ts`. Ctrl is Cmd where there is one. Letters are no keys while one types.',
      ...keyList().flatMap(({ where, keys }) => [
        '',
        `## ${where}`,
        '',
        '| keys | what they do |',
        '| --- | --- |',
        ...keys.map(({ shown: of, label }) => `| ${of} | ${label} |`),
      ]),
      '',
    ].join('\n')
    if (process.env.WRITE_CONTROLS) writeFileSync(file, text)
    expect(readFileSync(file, 'utf8')).toBe(text)
  })
})
