/** Linear sRGB to XYZ relative to D50 (Bradford). */
const TO_XYZ = [
  [0.4360747, 0.3850649, 0.1430804],
  [0.2225045, 0.7168786, 0.0606169],
  [0.0139322, 0.0971045, 0.7141733],
]

const light = (v: number) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4)

/** Lab of an encoded sRGB colour in the numbers of a table of 16 bits (ICC.1:2010, 10.10). */
function coded(rgb: readonly number[]): number[] {
  const linear = rgb.map(light)
  const [x, y, z] = TO_XYZ.map((row) => row.reduce((sum, k, i) => sum + k * linear[i], 0))
  const f = (t: number) => (t > (6 / 29) ** 3 ? Math.cbrt(t) : t / (3 * (6 / 29) ** 2) + 4 / 29)
  const [fx, fy, fz] = [f(x / 0.9642), f(y), f(z / 0.8249)]
  return [(116 * fy - 16) * 652.8, (500 * (fx - fy) + 128) * 256, (200 * (fy - fz) + 128) * 256]
}

const bytesOf = (size: 2 | 4, values: readonly number[]) => {
  const out = Buffer.alloc(values.length * size)
  values.forEach((v, i) => {
    const whole = Math.min(Math.max(Math.round(v), 0), size === 2 ? 65535 : 2 ** 32 - 1)
    if (size === 2) out.writeUInt16BE(whole, i * 2)
    else out.writeUInt32BE(whole, i * 4)
  })
  return out
}

const WHITE = [63190, 65536, 54061]

/**
 * A profile that says the colours of sRGB, or its greys, by a table alone (ICC.1:2010, 10.10).
 * @param straight instead of the table one straight curve, from numbers to lightness
 */
export function tableProfile(channels: 1 | 3, straight = false): Uint8Array {
  const side = channels === 3 ? 33 : 255
  const axis = Array.from({ length: side }, (_, i) => i / (side - 1))
  const grid =
    channels === 3
      ? axis.flatMap((r) => axis.flatMap((g) => axis.flatMap((b) => coded([r, g, b]))))
      : axis.flatMap((v) => coded([v, v, v]))
  const line = [0, 65535]
  const one = 65536
  const table = Buffer.concat([
    Buffer.from('mft2\0\0\0\0', 'latin1'),
    Buffer.from([channels, 3, side, 0]),
    bytesOf(4, [one, 0, 0, 0, one, 0, 0, 0, one]),
    bytesOf(2, [
      2,
      2,
      ...new Array<number[]>(channels).fill(line).flat(),
      ...grid,
      ...line,
      ...line,
      ...line,
    ]),
  ])
  const curve = Buffer.concat([Buffer.from('curv\0\0\0\0', 'latin1'), bytesOf(4, [2]), bytesOf(2, line)])
  const name = Buffer.concat([
    Buffer.from('desc\0\0\0\0', 'latin1'),
    bytesOf(4, [6]),
    Buffer.from('table\0', 'latin1'),
    Buffer.alloc(78),
  ])
  const white = Buffer.concat([Buffer.from('XYZ \0\0\0\0', 'latin1'), bytesOf(4, WHITE)])
  const parts: [string, Buffer][] = [
    ['desc', name],
    ['wtpt', white],
    straight ? ['kTRC', curve] : ['A2B0', table],
  ]
  const index: Buffer[] = [bytesOf(4, [parts.length])]
  const body: Buffer[] = []
  let at = 132 + 12 * parts.length
  for (const [tag, data] of parts) {
    index.push(Buffer.from(tag, 'latin1'), bytesOf(4, [at, data.length]))
    const filled = Buffer.concat([data, Buffer.alloc((4 - (data.length % 4)) % 4)])
    body.push(filled)
    at += filled.length
  }
  const head = Buffer.alloc(128)
  head.writeUInt32BE(at)
  head.writeUInt32BE(0x02400000, 8)
  head.write(`mntr${channels === 3 ? 'RGB ' : 'GRAY'}Lab `, 12, 'latin1')
  head.write('acsp', 36, 'latin1')
  bytesOf(4, WHITE).copy(head, 68)
  return new Uint8Array(Buffer.concat([head, ...index, ...body]))
}
