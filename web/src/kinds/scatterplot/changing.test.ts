import { describe, expect, it } from 'vitest'
import { blankDocument } from '@/figure-model/blank'
import type { FigureDocument, VariableSummary } from '@/api/types'
import type { StatementContext } from '@/figure-model/statement/parts'
import { barsFrom, setAxis } from './changing'

const changed = (axis: 'x' | 'y', name: string, change: Partial<FigureDocument> = {}) => {
  const draft = { ...blankDocument('t', 'rain', 'moss'), ...change }
  draft.axes.x.scale = 'log'
  setAxis(
    { edit: (by: (draft: FigureDocument) => void) => by(draft) } as StatementContext,
    axis,
    name,
  )
  return draft
}

describe('another variable on an axis', () => {
  it('takes the place of what stood there', () => {
    const { x, y } = changed('x', 'wind')
    expect([x, y]).toEqual(['wind', ['moss']])
  })

  it('changes places with the other axis where it is the one that stands there', () => {
    for (const [axis, name] of [
      ['x', 'moss'],
      ['y', 'rain'],
    ] as const) {
      const { x, y, axes } = changed(axis, name)
      expect([x, y]).toEqual(['moss', ['rain']])
      expect([axes.x.scale, axes.y.scale]).toEqual(['linear', 'log'])
    }
  })

  it('is one of several that go up, without changing places', () => {
    const { x, y } = changed('y', 'rain', { y: ['moss', 'fern'] })
    expect([x, y]).toEqual(['rain', ['rain', 'fern']])
  })
})

describe('error bars', () => {
  const numbers = (...names: string[]) =>
    names.map((name) => ({ name, kind: 'number' }) as VariableSummary)

  it('are of what is named as they are', () => {
    expect(barsFrom(numbers('rain', 'moss SE'))).toMatchObject({
      kind: 'variable',
      below: 'moss SE',
    })
    expect(barsFrom(numbers('SE low', 'SE high'))).toMatchObject({
      kind: 'two',
      below: 'SE low',
      above: 'SE high',
    })
  })

  it('are none before a source is chosen', () => {
    expect(barsFrom(numbers('rain', 'moss'))).toBeNull()
  })
})
