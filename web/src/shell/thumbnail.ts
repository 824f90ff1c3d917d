const WIDTH = 240
const HEIGHT = 180

/** A small JPEG of a photo, made in the browser; null for what is no picture the browser can draw. */
export async function thumbnailOf(file: File): Promise<Blob | null> {
  if (!file.type.startsWith('image/')) return null
  try {
    const picture = await createImageBitmap(file)
    const scale = Math.max(WIDTH / picture.width, HEIGHT / picture.height)
    const canvas = document.createElement('canvas')
    canvas.width = WIDTH
    canvas.height = HEIGHT
    const [w, h] = [picture.width * scale, picture.height * scale]
    canvas.getContext('2d')!.drawImage(picture, (WIDTH - w) / 2, (HEIGHT - h) / 2, w, h)
    picture.close()
    return await new Promise((resolve) => canvas.toBlob(resolve, 'image/jpeg', 0.8))
  } catch {
    return null
  }
}
