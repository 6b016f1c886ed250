/** Size of a picture whose long edge is `longEdge`; never larger than the picture itself. */
export function fitLongEdge(width: number, height: number, longEdge: number | undefined) {
  if (!longEdge || longEdge >= Math.max(width, height)) return { width, height }
  return fitScale(width, height, longEdge / Math.max(width, height))
}

/** Size of a picture that fits a frame; never larger than the picture itself. */
export function fitInto(width: number, height: number, roomWidth: number, roomHeight: number) {
  return fitScale(width, height, Math.min(1, roomWidth / width, roomHeight / height))
}

const fitScale = (width: number, height: number, scale: number) => ({
  width: Math.max(1, Math.round(width * scale)),
  height: Math.max(1, Math.round(height * scale)),
})
