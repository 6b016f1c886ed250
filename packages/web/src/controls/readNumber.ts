/** A sign, digits, and a comma or point before decimals; minus may be the typographic one or a dash. */
const NUMBER = /^([+\-\u2212\u2013]?)(\d*)(?:[.,](\d*))?$/

/**
 * The number that a text says, or nothing where it says none.
 * @param whole whether decimals make no sense: "5,500" is then no number, since it may be meant as 5500
 */
export function readNumber(text: string, whole = false): number | undefined {
  const [, sign, digits = '', decimals] = NUMBER.exec(text.replace(/\s/g, '')) ?? []
  if (sign === undefined || digits + (decimals ?? '') === '') return undefined
  if (whole && decimals !== undefined && /[1-9]/.test(decimals)) return undefined
  // three digits behind a separator are as likely thousands
  if (whole && decimals?.length === 3) return undefined
  const size = Number(`${digits || '0'}.${decimals || '0'}`)
  return sign === '' || sign === '+' ? size : -size
}
