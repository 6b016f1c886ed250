import { NAME_TOKENS } from '@dunkelkammer/core'

export type Token = keyof typeof NAME_TOKENS
const TOKENS = Object.keys(NAME_TOKENS) as Token[]

/** Puts a word that stands for something known of the frame into a text. */
export function InsertToken(props: { label: string; onInsert(token: Token): void }) {
  return (
    <select
      className="field !w-40 py-1"
      aria-label={props.label}
      value=""
      onChange={(e) => props.onInsert(e.target.value as Token)}
    >
      <option value="" disabled>
        Insert…
      </option>
      {TOKENS.map((token) => (
        <option key={token} value={token}>
          {NAME_TOKENS[token].label}
        </option>
      ))}
    </select>
  )
}
