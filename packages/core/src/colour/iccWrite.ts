export const u32 = (v: number) => [(v >>> 24) & 255, (v >>> 16) & 255, (v >>> 8) & 255, v & 255]
export const u16 = (v: number) => [(v >>> 8) & 255, v & 255]
/** s15Fixed16Number (ICC.1:2010, 4.6). */
export const fixed = (v: number) => u32(Math.round(v * 65536))
export const ascii = (s: string) => [...s].map((c) => c.charCodeAt(0))
/** The illuminant of the connection space, as it is to be stored (ICC.1:2010, 7.2.16). */
export const CONNECTION_WHITE = [0xf6d6, 0x10000, 0xd32d].map((v) => v / 65536)
export const xyzTag = (v: readonly number[]) => [...ascii('XYZ '), ...u32(0), ...v.flatMap(fixed)]

/**
 * A profile of its tags (ICC.1:2010, 7); the same array under two names is stored once.
 * @param device class and connection space as in the header, for example 'mntr' and 'XYZ '
 */
export function packProfile(
  version: number,
  device: string,
  connection: string,
  tags: readonly (readonly [name: string, data: readonly number[]])[],
): Uint8Array {
  const table: number[] = []
  const placed = new Map<readonly number[], number>()
  const start = 128 + 4 + tags.length * 12
  let end = start
  for (const [name, data] of tags) {
    let at = placed.get(data)
    if (at === undefined) {
      placed.set(data, (at = end))
      end += (data.length + 3) & ~3
    }
    table.push(...ascii(name), ...u32(at), ...u32(data.length))
  }
  const header = [
    ...u32(end),
    ...u32(0),
    ...u32(version),
    ...ascii(`${device}RGB ${connection}`),
    ...[2026, 1, 1, 0, 0, 0].flatMap(u16),
    ...ascii('acsp'),
    // platform, flags, maker, model, attributes and intent: nothing to say
    ...new Array<number>(28).fill(0),
    ...CONNECTION_WHITE.flatMap(fixed),
  ]
  const out = new Uint8Array(end)
  out.set(header)
  out.set([...u32(tags.length), ...table], 128)
  placed.forEach((at, data) => out.set(data, at))
  return out
}
