/** What a browser keeps, with room for so many letters in all. */
export function kept(room = 5_000_000) {
  const held = new Map<string, string>()
  return {
    getItem: (key: string) => held.get(key) ?? null,
    setItem: (key: string, text: string) => {
      const others = [...held].filter(([other]) => other !== key).map(([, held]) => held.length)
      if (others.reduce((a, b) => a + b, text.length) > room)
        throw new DOMException('full', 'QuotaExceededError')
      held.set(key, text)
    },
    removeItem: (key: string) => held.delete(key),
  }
}
