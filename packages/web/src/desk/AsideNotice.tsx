/** Says that two windows changed the same, and has one of the two chosen. */
export function AsideNotice(props: { onTake(): void; onLeave(): void }) {
  return (
    <div
      role="alert"
      className="absolute top-3 left-1/2 z-10 flex -translate-x-1/2 items-center gap-3 border border-edge bg-panel px-3 py-1.5 whitespace-nowrap"
    >
      Another window changed the same settings. What was set here is kept in the history.
      <button className="button" onClick={props.onTake}>
        Use my settings
      </button>
      <button className="button" onClick={props.onLeave}>
        Dismiss
      </button>
    </div>
  )
}
