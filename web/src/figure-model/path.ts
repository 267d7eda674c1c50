/** Places in a document, as typed paths: `marks.size`, `axes.x.low`, `trends.0.width`. */
import type { FigureDocument } from '@/api/types'

type Depth = [never, 0, 1, 2, 3, 4]

type PathIn<T, D extends number> = [D] extends [never]
  ? never
  : T extends readonly (infer Item)[]
    ? `${number}` | `${number}.${PathIn<NonNullable<Item>, Depth[D]>}`
    : T extends object
      ? {
          [Key in keyof T & string]: Key | `${Key}.${PathIn<NonNullable<T[Key]>, Depth[D]>}`
        }[keyof T & string]
      : never

export type PathOf<Document> = PathIn<Document, 4>
export type Path = PathOf<FigureDocument>

type Held = Record<string, unknown>

/** What stands at a path; undefined where the way there ends. */
export const at = (document: object, path: string): unknown =>
  path.split('.').reduce<unknown>((held, key) => (held as Held | null | undefined)?.[key], document)

/** Puts a value at a path of a draft. */
export function put(draft: object, path: string, value: unknown): void {
  const keys = path.split('.')
  const last = keys.pop()!
  const held = keys.reduce<unknown>((part, key) => (part as Held)[key], draft)
  ;(held as Held)[last] = value
}
