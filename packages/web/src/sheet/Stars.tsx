/** Outline of a star in a square of 12. */
const STAR = 'M6 .8 7.6 4.3 11.4 4.7 8.5 7.2 9.4 11 6 9 2.6 11 3.5 7.2.6 4.7 4.4 4.3Z'
const STEP = 13

/** The stars of a frame, drawn; a press on one sets that many, on the last one given none. */
export function Stars({
  rating,
  onRate,
  size = 12,
}: {
  rating: number
  onRate?(rating: number): void
  size?: number
}) {
  return (
    <svg
      width={(size / 12) * STEP * 5}
      height={size}
      viewBox={`0 0 ${STEP * 5} 12`}
      role="img"
      aria-label={`${rating} of 5 stars`}
      className={onRate ? 'cursor-pointer' : undefined}
      onPointerDown={onRate && ((e) => e.stopPropagation())}
      onDoubleClick={onRate && ((e) => e.stopPropagation())}
      onClick={
        onRate &&
        ((event) => {
          event.stopPropagation()
          const box = event.currentTarget.getBoundingClientRect()
          const n = Math.min(5, Math.max(1, Math.ceil(((event.clientX - box.left) / box.width) * 5)))
          onRate(n === rating ? 0 : n)
        })
      }
    >
      <rect width={STEP * 5} height="12" fill="transparent" />
      {[0, 1, 2, 3, 4].map((i) => (
        <path
          key={i}
          d={STAR}
          transform={`translate(${i * STEP} 0)`}
          className={i < rating ? 'fill-bright stroke-bright' : 'fill-none stroke-edge'}
          strokeWidth="0.9"
        />
      ))}
    </svg>
  )
}
