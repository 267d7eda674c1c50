import { beforeEach, expect, test, vi } from 'vitest'
import { forgetPictures, recall, remember } from './thumbnail-cache'
import { kept as store } from './testing'

const KEPT = 'yarrowdew small pictures'

const drawn = (picture: string) => ({ toDataURL: () => picture }) as HTMLCanvasElement
const kept = () => Object.keys(JSON.parse(localStorage.getItem(KEPT) ?? '{}'))

beforeEach(() => vi.stubGlobal('localStorage', store()))

test('the pictures that were drawn longest ago make room for new ones', () => {
  for (let i = 0; i < 65; i++) remember(`figure ${i}`, drawn('data:image/png;a'))
  remember('figure 10', drawn('data:image/png;b'))
  remember('figure 70', drawn('data:image/png;c'))
  expect(kept()).toHaveLength(60)
  expect(kept()).toContain('figure 10')
  expect(kept()).not.toContain('figure 5')
  expect(kept().at(-1)).toBe('figure 70')
})

test('what stands there and is no list of pictures spoils nothing', () => {
  for (const wrong of ['null', '7', '{', '{"a":"http://elsewhere"}']) {
    localStorage.setItem(KEPT, wrong)
    expect(() => recall('a', {} as HTMLCanvasElement)).not.toThrow()
    remember('b', drawn('data:image/png;b'))
    expect(kept()).toContain('b')
  }
})

test('nothing stays of what was deleted', () => {
  remember('a', drawn('data:image/png;a'))
  forgetPictures()
  expect(kept()).toEqual([])
})
