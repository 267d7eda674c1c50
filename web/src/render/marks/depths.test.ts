/** Marks by their depth: order, looks, shadows; held against sorting one by one. */
import { describe, expect, it } from 'vitest'
import { blankDocument } from '@/figure-model/blank'
import type { Marks } from '@/api/types'
import { cameraOf, nearness, onPage } from '@/render/geometry/camera'
import { axisAnswer, blankAnswer, NO_MARKS } from '@/render/testing'
import { lookAt, placeInBox, shadowsOn, type InBox } from './depths'
import { looksOf } from './looks'

const room = { x: 0, y: 0, width: 600, height: 500 }
const paper = [255, 255, 255] as const
const depths = { fade: 0.6, shrink: 0.4 }

/** Places that follow no order, from a generator that is the same each time. */
function scattered(count: number): { marks: Marks; inBox: InBox } {
  let state = 7
  const next = (): number => {
    state = (state * 16_807) % 2_147_483_647
    return state / 2_147_483_647 - 0.5
  }
  const column = (): Float64Array => Float64Array.from({ length: count }, next)
  const marks: Marks = {
    ...NO_MARKS,
    row: Uint32Array.from({ length: count }, (_, i) => i),
    x: column(),
    y: column(),
    depth: column(),
    aside: new Uint8Array(count),
  }
  return {
    marks,
    inBox: { across: marks.x, up: marks.y.map((v) => v * 0.8), depth: marks.depth!, of: marks },
  }
}

const looks = (marks: Marks) => {
  const axis = axisAnswer('V', -0.5, 0.5)
  return looksOf(
    blankDocument('t', 'a', 'b'),
    blankAnswer(axis, axis, marks.row.length),
    marks,
    1e5,
  )
}

describe('marks by their depth', () => {
  it('are drawn from the furthest to the nearest, each where the camera sees it', () => {
    const { marks, inBox } = scattered(500)
    const camera = cameraOf({ around: 33, above: 18, closeness: 1 }, 0.5, room)
    const placed = placeInBox(inBox, looks(marks), camera, depths, room, paper)
    const at = (i: number) => [inBox.across[i], inBox.up[i], inBox.depth[i]] as const
    const near = [...placed.source].map((i) => nearness(camera, at(i)))
    // In steps of a 4,096th of the depth they are in order.
    for (let k = 1; k < near.length; k++)
      expect(near[k]).toBeGreaterThan(near[k - 1] - 2 / 4096 - 1e-9)
    for (let k = 0; k < near.length; k += 37) {
      const [x, y] = onPage(camera, at(placed.source[k]))
      expect(placed.item.x[k]).toBeCloseTo(x, 3)
      expect(placed.item.y[k]).toBeCloseTo(y, 3)
    }
  })

  it('that lie beyond an axis are counted and not drawn', () => {
    const { marks, inBox } = scattered(50)
    inBox.up[3] = inBox.depth[9] = NaN
    const camera = cameraOf({ around: 0, above: 0, closeness: 1 }, 0, room)
    const placed = placeInBox(inBox, looks(marks), camera, depths, room, paper)
    expect(placed.off).toBe(2)
    expect([...placed.source]).not.toContain(3)
    expect(placed.all.x[9]).toBeLessThan(-1e5)
  })

  it('are fewer while a hand turns them, evenly from all, and the same when it rests', () => {
    const { marks, inBox } = scattered(1000)
    const camera = cameraOf({ around: 10, above: 10, closeness: 1 }, 0, room)
    const of = looks(marks)
    const some = placeInBox(inBox, of, camera, depths, room, paper, 100)
    expect(some.source).toHaveLength(100)
    expect([...some.source].every((i) => i % 10 === 0)).toBe(true)
    const whole = placeInBox(inBox, of, camera, depths, room, paper)
    expect(whole.source).toHaveLength(1000)
    // Asked for once more it is the very same, so that what is drawn beside the page stands.
    expect(placeInBox(inBox, of, camera, depths, room, paper)).toBe(whole)
  })

  it('keep their looks from angle to angle', () => {
    const { marks, inBox } = scattered(200)
    const of = looks(marks)
    const first = placeInBox(
      inBox,
      of,
      cameraOf({ around: 0, above: 20, closeness: 1 }, 0.4, room),
      depths,
      room,
      paper,
    )
    const second = placeInBox(
      inBox,
      of,
      cameraOf({ around: 90, above: 20, closeness: 1 }, 0.4, room),
      depths,
      room,
      paper,
    )
    const known = new Set(first.item.looks)
    const shared = second.item.looks.filter((look) => known.has(look))
    expect(shared.length).toBeGreaterThan(4)
  })

  it('are paler and smaller by the amounts that were set', () => {
    const { marks } = scattered(1)
    const [plain] = looks(marks).looks
    const far = lookAt(plain, 1, depths, 0, paper)
    expect(far.size).toBeCloseTo(plain.size * 0.6)
    far.colour.forEach((value, i) =>
      expect(value).toBeCloseTo(255 + (plain.colour[i] - 255) * 0.4, -0.5),
    )
    expect(lookAt(plain, 0, depths, 0, paper)).toMatchObject({ size: plain.size })
    const alike = lookAt(plain, 1, { fade: 0, shrink: 0 }, 0, paper)
    expect([alike.size, alike.colour]).toEqual([plain.size, plain.colour])
  })

  it('throw their shadows on the floor: where they stand, without their height', () => {
    const { inBox } = scattered(20)
    const camera = cameraOf({ around: 25, above: 30, closeness: 1 }, 0.4, room)
    const item = shadowsOn(inBox, { axis: 'up', at: -0.4 }, camera, 4, room, paper, [0, 0, 0])
    for (let i = 0; i < 20; i++) {
      const [x, y] = onPage(camera, [inBox.across[i], -0.4, inBox.depth[i]])
      expect(item.x[i]).toBeCloseTo(x, 3)
      expect(item.y[i]).toBeCloseTo(y, 3)
    }
  })
})
