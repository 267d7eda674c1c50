import { describe, expect, it } from 'vitest'
import { cameraOf, growth, isNear, nearness, onPage, TALL, within, type Place3 } from './camera'

const room = { x: 0, y: 0, width: 600, height: 500 }
const seen = (around: number, above: number, closeness = 1) => ({ around, above, closeness })

describe('a camera', () => {
  it('sees a pair of axes face on as a plot of them', () => {
    const front = cameraOf(seen(0, 0), 0, room)
    const [x0, y0] = onPage(front, [-0.5, -TALL / 2, 0.3])
    const [x1, y1] = onPage(front, [0.5, TALL / 2, -0.4])
    expect(x1 - x0).toBeCloseTo(front.unit)
    expect(y0 - y1).toBeCloseTo(TALL * front.unit)
    // What goes into the depth does not show.
    expect(onPage(front, [0.2, 0.1, -0.5])).toEqual(onPage(front, [0.2, 0.1, 0.5]))
    const top = cameraOf(seen(0, 90), 0, room)
    const near = onPage(top, [0, 0.2, -0.5])
    const far = onPage(top, [0, -0.2, 0.5])
    // From above the depth runs up the page.
    expect(near[1]).toBeGreaterThan(far[1])
    expect(near[0]).toBeCloseTo(far[0])
  })

  it('keeps angles and lengths: what it shows is a turned box, and no other', () => {
    for (const [around, above] of [
      [-35, 22],
      [120, -40],
      [77, 3],
    ]) {
      const camera = cameraOf(seen(around, above), 0, room)
      const axes = [camera.right, camera.down, camera.near]
      axes.forEach((a, i) =>
        axes.forEach((b, k) =>
          expect(a[0] * b[0] + a[1] * b[1] + a[2] * b[2]).toBeCloseTo(i === k ? 1 : 0),
        ),
      )
    }
  })

  it('draws what is nearer larger, by perspective, and alike without', () => {
    const camera = cameraOf(seen(-35, 22), 1, room)
    expect(growth(camera, 0.8)).toBeGreaterThan(growth(camera, -0.8))
    expect(growth(cameraOf(seen(-35, 22), 0, room), 0.8)).toBe(1)
    // The eye is at a distance of 2.4: a place half way to it is twice as large.
    const near: Place3 = [camera.near[0] * 1.2, camera.near[1] * 1.2, camera.near[2] * 1.2]
    expect(growth(camera, nearness(camera, near))).toBeCloseTo(2)
  })

  it('has three faces of the box before it and three behind, from any corner', () => {
    for (const around of [-35, 55, 145, -125])
      for (const above of [22, -22]) {
        const camera = cameraOf(seen(around, above), 0.4, room)
        const faces: Place3[] = [
          [1, 0, 0],
          [-1, 0, 0],
          [0, 1, 0],
          [0, -1, 0],
          [0, 0, 1],
          [0, 0, -1],
        ]
        expect(faces.filter((face) => isNear(camera, face))).toHaveLength(3)
      }
  })

  it('shows the whole box in its room wherever it is turned', () => {
    for (let around = -180; around < 180; around += 15)
      for (const above of [-90, -30, 0, 22, 60, 90]) {
        const camera = cameraOf(seen(around, above), 0.4, room)
        for (const u of [-0.5, 0.5])
          for (const v of [-TALL / 2, TALL / 2])
            for (const w of [-0.5, 0.5]) {
              const [x, y] = onPage(camera, [u, v, w])
              // A corner that is turned to the side may reach into the room of the words.
              expect(x).toBeGreaterThan(-50)
              expect(x).toBeLessThan(650)
              expect(y).toBeGreaterThan(-50)
              expect(y).toBeLessThan(550)
            }
      }
  })

  it('turns without end and tips as far as above and below', () => {
    expect(within({ around: 190, above: 95, closeness: 20 })).toEqual({
      around: -170,
      above: 90,
      closeness: 8,
    })
    expect(within({ around: -540, above: -100, closeness: 0 }).around).toBe(-180)
  })
})
