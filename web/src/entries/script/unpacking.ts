/** Packing and unpacking at once: the package's own way is to ask a worker, which no bare engine has. */
import { unzlibSync, zlibSync } from 'fflate/browser'

export { zlibSync }

export function unzlib(
  data: Uint8Array,
  then: (error: Error | null, data: Uint8Array | null) => void,
): void {
  let made: Uint8Array
  try {
    made = unzlibSync(data)
  } catch (error) {
    then(error as Error, null)
    return
  }
  then(null, made)
}
