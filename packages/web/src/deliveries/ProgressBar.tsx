/** How much of something is done. */
export function ProgressBar({ label, share }: { label: string; share: number }) {
  const percent = Math.round(share * 100)
  return (
    <div
      role="progressbar"
      aria-label={label}
      aria-valuenow={percent}
      aria-valuemin={0}
      aria-valuemax={100}
      className="h-[3px] w-full bg-edge"
    >
      <div className="h-full bg-safe" style={{ width: `${share * 100}%` }} />
    </div>
  )
}
