const CLEAR = 256
const END = 257
/** The table is cleared when this code has been given out (TIFF 6.0, section 13). */
const LAST = 4093

/** Slots of the table of strings, a power of two well above the codes there may be. */
const SLOTS = 1 << 14

/** Compresses a strip as TIFF 6.0, section 13 has it: codes of 9 to 12 bits, high bits first. */
export function lzw(data: Uint8Array): Uint8Array {
  // at worst every byte takes 12 bits, with the codes around them
  const out = new Uint8Array(Math.ceil(data.length * 1.5) + 16)
  const keys = new Int32Array(SLOTS).fill(-1)
  const codes = new Uint16Array(SLOTS)
  let at = 0
  let held = 0
  let holding = 0
  let bits = 9
  let next = 258
  const put = (code: number) => {
    held = (held << bits) | code
    holding += bits
    while (holding >= 8) {
      holding -= 8
      out[at++] = held >> holding
      held &= (1 << holding) - 1
    }
  }
  put(CLEAR)
  let prefix = -1
  for (const byte of data) {
    if (prefix < 0) {
      prefix = byte
      continue
    }
    const key = (prefix << 8) | byte
    let slot = Math.imul(key, 0x9e3779b1) >>> 18
    while (keys[slot] !== -1 && keys[slot] !== key) slot = (slot + 1) & (SLOTS - 1)
    if (keys[slot] === key) {
      prefix = codes[slot]
      continue
    }
    put(prefix)
    prefix = byte
    if (next > LAST) {
      put(CLEAR)
      keys.fill(-1)
      next = 258
      bits = 9
      continue
    }
    keys[slot] = key
    codes[slot] = next++
    // a reader is one string behind, so codes grow a bit before they must
    if (next === 512 || next === 1024 || next === 2048) bits++
  }
  if (prefix >= 0) {
    put(prefix)
    next++
    if (next === 512 || next === 1024 || next === 2048) bits++
  }
  put(END)
  if (holding > 0) out[at++] = held << (8 - holding)
  return out.slice(0, at)
}
