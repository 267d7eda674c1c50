import { describe, expect, it } from 'vitest'
import {
  blankColour,
  blankDocument,
  blankReference,
  blankSize,
  blankTrend,
} from '@/figure-model/blank'
import type { FigureDocument } from '@/api/types'
import { asked } from './answer-key'

const begun: FigureDocument = {
  ...blankDocument('t', 'x', 'y'),
  colour: blankColour('z'),
  size: blankSize('z'),
  trends: [blankTrend('straight', null)],
  references: [blankReference()],
}

function changed(change: (draft: FigureDocument) => void): boolean {
  const draft = structuredClone(begun)
  change(draft)
  return asked(draft) !== asked(begun)
}

describe('what an answer depends on', () => {
  it.each<[string, (draft: FigureDocument) => void]>([
    ['a title', (draft) => (draft.title = 'Dew')],
    ['an axis that starts elsewhere', (draft) => (draft.axes.x.low = 3)],
    ['the width of a line', (draft) => (draft.trends[0].width = 5)],
    ['a ramp', (draft) => (draft.colour!.ramp = 'ember')],
    ['the largest bubble', (draft) => (draft.size!.largest = 60)],
    ['a label of a reference line', (draft) => (draft.references[0].label = 'mean')],
  ])('is not %s', (_, change) => {
    expect(changed(change)).toBe(false)
  })

  it.each<[string, (draft: FigureDocument) => void]>([
    ['a variable', (draft) => (draft.x = 'z')],
    ['rows set aside', (draft) => draft.set_aside.push(3)],
    ['the level of a band', (draft) => (draft.trends[0].bands[0].level = 0.9)],
    ['a setting of a family', (draft) => (draft.trends[0].settings = { intercept: 1 })],
    ['where a reference line lies', (draft) => (draft.references[0].at = 'median')],
    ['letters in the place of markers', (draft) => (draft.marks.text = 'z')],
    // What the models know and this page does not is asked for, too.
    ['a part that nobody has marked', (draft) => Object.assign(draft, { beyond: 1 })],
  ])('is %s', (_, change) => {
    expect(changed(change)).toBe(true)
  })
})
