import { fitLongEdge } from '@dunkelkammer/engine/browser'

/** The embedded picture's pixels, small: within a long edge, or of a given size. */
export async function embeddedPixels(
  url: string,
  wanted: number | { width: number; height: number },
): Promise<Uint8ClampedArray> {
  const response = await fetch(url)
  if (!response.ok) throw new Error('The camera’s own picture cannot be read.')
  const whole = await createImageBitmap(await response.blob())
  const { width, height } =
    typeof wanted === 'number' ? fitLongEdge(whole.width, whole.height, wanted) : wanted
  const context = new OffscreenCanvas(width, height).getContext('2d')!
  context.imageSmoothingQuality = 'high'
  context.drawImage(whole, 0, 0, width, height)
  whole.close()
  return context.getImageData(0, 0, width, height).data
}
