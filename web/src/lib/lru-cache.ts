/** Things that were made lately: what takes long is made once, and what is not used is let go. */
export interface LruCache<Key, Value> {
  /** What was made for a key, or is made now. */
  of: (key: Key, make: () => Value) => Value
  /** Forgets what turned out to be of no use. */
  drop: (key: Key) => void
}

/** @param most so many are kept: the one that was used longest ago goes first */
export function lruCache<Key, Value>(most: number): LruCache<Key, Value> {
  const kept = new Map<Key, Value>()
  return {
    of(key, make) {
      let value = kept.get(key)
      if (value === undefined) {
        value = make()
        const oldest = kept.keys().next()
        if (kept.size >= most && !oldest.done) kept.delete(oldest.value)
      } else kept.delete(key)
      kept.set(key, value)
      return value
    },
    drop: (key) => kept.delete(key),
  }
}

/**
 * What was made last for something, for as long as all that it is made of is the same: so do columns
 * stay the same, and need not be made, put in order and handed on again.
 */
export function memoizeByDependencies<Holder extends object, Made>(): (
  holder: Holder,
  of: readonly unknown[],
  make: () => Made,
) => Made {
  const kept = new WeakMap<Holder, { of: readonly unknown[]; made: Made }>()
  return (holder, of, make) => {
    const known = kept.get(holder)
    if (known?.of.every((one, i) => one === of[i])) return known.made
    const made = make()
    kept.set(holder, { of, made })
    return made
  }
}
