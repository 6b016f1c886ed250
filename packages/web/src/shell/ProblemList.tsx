/** Single things that went wrong while the rest went on, each a line. */
export function ProblemList({ problems, className }: { problems: readonly string[]; className: string }) {
  if (problems.length === 0) return null
  return (
    <ul className={`overflow-y-auto ${className}`}>
      {problems.map((p, i) => (
        <li key={i} className="py-0.5 break-words">
          {p}
        </li>
      ))}
    </ul>
  )
}
