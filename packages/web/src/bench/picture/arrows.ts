/** The way an arrow key points, `step` long: right and down are positive; undefined for other keys. */
export function arrowBy(key: string, step: number): readonly [number, number] | undefined {
  switch (key) {
    case 'ArrowLeft':
      return [-step, 0]
    case 'ArrowRight':
      return [step, 0]
    case 'ArrowUp':
      return [0, -step]
    case 'ArrowDown':
      return [0, step]
  }
}
