import { del, get, set } from 'idb-keyval'

/** A photo on its way, kept on the device until the server has it. */
export type Waiting = { id: string; note: string; image: string }

/** The longer side of a photo as it is sent, and the most bytes of a file that is opened at all. */
const LONGEST = 1600
const MOST_BYTES = 60 * 2 ** 20
const QUALITY = 0.85
const FLAT = '2d'

/**
 * Draws a photo upright and smaller, as JPEG in base64: what a camera wrote beside it stays
 * behind. It fails on what is no picture.
 */
export async function redraw(file: Blob): Promise<string> {
  if (file.size > MOST_BYTES) throw new Error('too large')
  const was = await createImageBitmap(file, { imageOrientation: 'from-image' })
  const by = Math.min(1, LONGEST / Math.max(was.width, was.height))
  const canvas = document.createElement('canvas')
  canvas.width = Math.max(1, Math.round(was.width * by))
  canvas.height = Math.max(1, Math.round(was.height * by))
  canvas.getContext(FLAT)!.drawImage(was, 0, 0, canvas.width, canvas.height)
  was.close()
  return canvas.toDataURL('image/jpeg', QUALITY).split(',')[1]
}

const key = (attempt: string) => `photos.${attempt}`
export const waiting = async (attempt: string) => (await get<Waiting[]>(key(attempt))) ?? []
export const keepWaiting = (attempt: string, all: Waiting[]) =>
  all.length ? set(key(attempt), all) : del(key(attempt))
