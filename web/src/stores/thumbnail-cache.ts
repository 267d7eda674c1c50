/**
 * Small pictures as they were drawn last, kept in this browser: a study opens with its pictures
 * there, and the true ones take their places as they come.
 */
const KEPT = 'yarrowdew small pictures'
/** The one that was drawn longest ago goes first. Of some 8 KB each. */
const MOST = 60

type Pictures = Record<string, string>

function kept(): Pictures {
  try {
    const found: unknown = JSON.parse(localStorage.getItem(KEPT) ?? '{}')
    return found !== null && typeof found === 'object' ? (found as Pictures) : {}
  } catch {
    return {}
  }
}

/** Keeps a picture that has just been drawn; a browser that keeps nothing loses nothing but time. */
export function remember(id: string, canvas: HTMLCanvasElement): void {
  const others = Object.entries(kept()).filter(([other]) => other !== id)
  const entries = [...others, [id, canvas.toDataURL()]].slice(-MOST)
  try {
    localStorage.setItem(KEPT, JSON.stringify(Object.fromEntries(entries)))
  } catch {
    localStorage.removeItem(KEPT)
  }
}

/** Shows the last picture until the true one stands. */
export function recall(id: string, canvas: HTMLCanvasElement): void {
  const last = kept()[id]
  if (!last?.startsWith('data:image/png')) return
  const picture = new Image()
  picture.onload = () => {
    if (canvas.dataset.seen) return
    canvas.width = picture.width
    canvas.height = picture.height
    canvas.getContext('2d')!.drawImage(picture, 0, 0)
  }
  picture.src = last
}

/** Nothing of what was deleted stays behind: the others come again as they are drawn. */
export const forgetPictures = (): void => localStorage.removeItem(KEPT)
