/**
 * What keys do, by what has the focus: declared once. Those who listen ask which was pressed; the
 * list of keys and the docs are made from here.
 */

export interface KeyWords {
  /** As `KeyboardEvent.key` has them, with `Ctrl+` and `Shift+` before; `Ctrl` is Cmd, too. */
  keys: readonly string[]
  label: string
}

const declared = <Name extends string>(of: Record<Name, KeyWords>): Record<Name, KeyWords> => of

const FIGURE = declared({
  left: { keys: ['ArrowLeft'], label: 'To the next mark on the left' },
  right: { keys: ['ArrowRight'], label: 'To the next mark on the right' },
  up: { keys: ['ArrowUp'], label: 'To the next mark above' },
  down: { keys: ['ArrowDown'], label: 'To the next mark below' },
  first: { keys: ['Home'], label: 'To the first mark on the left' },
  last: { keys: ['End'], label: 'To the last mark on the right' },
  tenBack: { keys: ['PageUp'], label: 'Ten marks to the left' },
  tenOn: { keys: ['PageDown'], label: 'Ten marks to the right' },
  select: { keys: [' '], label: 'Select or deselect the mark' },
  moveLeft: { keys: ['Shift+ArrowLeft'], label: 'Move to the left' },
  moveRight: { keys: ['Shift+ArrowRight'], label: 'Move to the right' },
  moveUp: { keys: ['Shift+ArrowUp'], label: 'Move up' },
  moveDown: { keys: ['Shift+ArrowDown'], label: 'Move down' },
  closer: { keys: ['+', '='], label: 'Zoom in' },
  further: { keys: ['-'], label: 'Zoom out' },
  home: { keys: ['0'], label: 'Show all' },
  all: { keys: ['Escape'], label: 'Leave the mark; then show every category again' },
  row: { keys: ['Enter'], label: 'Open the row of the mark' },
  words: { keys: ['F2'], label: 'Edit the text of the part that is tuned, or the title' },
})

export const KEYS = {
  study: declared({
    undo: { keys: ['Ctrl+z'], label: 'Undo' },
    redo: { keys: ['Ctrl+Shift+z'], label: 'Redo' },
    close: { keys: ['Escape'], label: 'Close the selection, the panel or the rows' },
    find: { keys: ['/'], label: 'Find a setting, an action, a variable' },
    list: { keys: ['?'], label: 'This list' },
    back: { keys: ['m'], label: 'Back to the matrix from which a pair was opened' },
  }),
  figure: FIGURE,
  /** A box is turned more often than its marks are walked through. */
  box: declared({
    ...FIGURE,
    left: { ...FIGURE.left, keys: FIGURE.moveLeft.keys },
    right: { ...FIGURE.right, keys: FIGURE.moveRight.keys },
    up: { ...FIGURE.up, keys: FIGURE.moveUp.keys },
    down: { ...FIGURE.down, keys: FIGURE.moveDown.keys },
    moveLeft: { keys: FIGURE.left.keys, label: 'Turn to the left' },
    moveRight: { keys: FIGURE.right.keys, label: 'Turn to the right' },
    moveUp: { keys: FIGURE.up.keys, label: 'Look from further above' },
    moveDown: { keys: FIGURE.down.keys, label: 'Look from further below' },
    closer: { ...FIGURE.closer, label: 'Come closer' },
    further: { ...FIGURE.further, label: 'Go further away' },
    home: { ...FIGURE.home, label: 'From the corner, and all of it' },
  }),
  matrix: declared({
    left: { keys: ['ArrowLeft'], label: 'To the cell on the left' },
    right: { keys: ['ArrowRight'], label: 'To the cell on the right' },
    up: { keys: ['ArrowUp'], label: 'To the cell above' },
    down: { keys: ['ArrowDown'], label: 'To the cell below' },
    open: { keys: ['Enter'], label: 'Open the pair' },
  }),
  plate: declared({
    left: { keys: ['ArrowLeft'], label: 'To the figure before' },
    right: { keys: ['ArrowRight'], label: 'To the figure after' },
    up: { keys: ['ArrowUp'], label: 'To the figure above' },
    down: { keys: ['ArrowDown'], label: 'To the figure below' },
  }),
}

type Where = keyof typeof KEYS

const WHERE: Record<Where, string> = {
  study: 'Anywhere in a study',
  figure: 'On a figure',
  box: 'On a 3-D scatterplot',
  matrix: 'On a matrix',
  plate: 'On a plate',
}

/** What was pressed means there; null where it means nothing. */
export function pressed<Place extends Where>(
  where: Place,
  event: Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'shiftKey' | 'altKey'>,
): keyof (typeof KEYS)[Place] | null {
  if (event.altKey) return null
  const isLetter = /^[a-z]$/i.test(event.key)
  const isNamed = event.key.length > 1
  const name = [
    event.ctrlKey || event.metaKey ? 'Ctrl+' : '',
    // Signs are typed with Shift on some keyboards and without on others.
    event.shiftKey && (isLetter || isNamed) ? 'Shift+' : '',
    isLetter ? event.key.toLowerCase() : event.key,
  ].join('')
  const held = KEYS[where] as Record<string, KeyWords>
  const found = Object.keys(held).find((one) => held[one].keys.includes(name))
  return (found ?? null) as keyof (typeof KEYS)[Place] | null
}

const SHOWN: Record<string, string> = {
  ArrowLeft: '←',
  ArrowRight: '→',
  ArrowUp: '↑',
  ArrowDown: '↓',
  Escape: 'Esc',
  '-': '−',
  ' ': 'Space',
}

/** A key as it is written for a person: `Ctrl+Shift+Z`. */
export const keyText = (key: string): string =>
  key === '+'
    ? key
    : key
        .split('+')
        .map((part) => SHOWN[part] ?? (part.length === 1 ? part.toUpperCase() : part))
        .join('+')

/** All keys, by where they hold. */
export const keyList = (): { where: string; keys: { shown: string; label: string }[] }[] =>
  (Object.keys(KEYS) as Where[]).map((where) => ({
    where: WHERE[where],
    keys: Object.values<KeyWords>(KEYS[where]).map(({ keys, label }) => ({
      shown: keys.map(keyText).join(' or '),
      label,
    })),
  }))
