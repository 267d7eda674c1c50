import { expect, it } from 'vitest'
import { blankDocument } from '@/figure-model/blank'
import { lookOf, putOn } from './looks'

it('a look is put on another figure, which keeps what belongs to its variables', () => {
  const one = blankDocument('t', 'humidity', 'yield')
  one.marks.shape = 'diamond'
  one.axes.x = { ...one.axes.x, low: 50, title: 'Humidity here', scale: 'log', grid: 'all' }
  one.axes.frame = 'box'
  one.type.scale = 1.5
  one.legend.place = 'free'
  const look = lookOf(one)
  expect(look.axes.x).toMatchObject({ low: null, title: null, scale: 'linear', grid: 'all' })
  const other = blankDocument('t', 'wind', 'cloud')
  other.axes.x.title = 'Wind speed'
  other.legend.place = 'below'
  putOn(other, look)
  expect(other.marks.shape).toBe('diamond')
  expect(other.axes.x).toMatchObject({ title: 'Wind speed', low: null, grid: 'all' })
  expect(other.axes.frame).toBe('box')
  expect(other.type.scale).toBe(1.5)
  // A place to which one legend was dragged is no place for another.
  expect(other.legend.place).toBe('below')
})
