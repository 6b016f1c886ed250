/** Passes progress on in steps of a tenth: drawing the page for each tile would slow the tiles down. */
export function inSteps(report: (share: number) => void): (done: number, all: number) => void {
  let last = -1
  return (done, all) => {
    const step = Math.floor((done / all) * 10)
    if (step === last) return
    last = step
    report(done / all)
  }
}
