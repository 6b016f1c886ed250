/** The head of a table of the pages; the last column is that of the buttons. */
export function TableHead({ columns }: { columns: readonly (readonly [label: string, width?: string])[] }) {
  return (
    <thead>
      <tr className="border-b border-line text-quiet">
        {columns.map(([label, width = '']) => (
          <th key={label} className={`${width} py-2 pr-4 font-normal`}>
            {label}
          </th>
        ))}
        <th className="w-28 py-2 font-normal">
          <span className="sr-only">Actions</span>
        </th>
      </tr>
    </thead>
  )
}
