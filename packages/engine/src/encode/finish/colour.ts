import {
  apply,
  between,
  decode,
  encode,
  pow,
  spaces,
  TABLE_ENTRY,
  TABLE_SIDE,
  TABLE_SPACE,
  type SpaceId,
  type OutputTable,
  type Triple,
} from '@dunkelkammer/core'
import type { PictureOrder } from '../order'

/** Encoded sRGB, 0..1, to encoded colours of a file. */
export type ToFile = (rgb: Triple) => Triple

const held = (v: number) => Math.min(Math.max(v, 0), 1)

/** The way from sRGB to what a file holds. */
export function colourIn({ space, table }: PictureOrder['pixels']): ToFile {
  const target = table ? TABLE_SPACE : spaces[space as SpaceId]
  const matrix = between(spaces.srgb, target)
  return (rgb) => {
    const linear = apply(matrix, rgb.map((v) => decode(spaces.srgb.curve, held(v))) as unknown as Triple)
    if (!table) return linear.map((v) => held(encode(target.curve, held(v)))) as unknown as Triple
    return lookUp(table, linear.map((v) => pow(held(v), target.curve.p)) as unknown as Triple)
  }
}

/** A colour through a table, between its entries by straight lines in each direction. */
function lookUp({ values }: OutputTable, encoded: Triple): Triple {
  const at = encoded.map((v) => v * (TABLE_SIDE - 1))
  const base = at.map((v) => Math.min(Math.floor(v), TABLE_SIDE - 2))
  const out = [0, 0, 0]
  for (let corner = 0; corner < 8; corner++) {
    const offs = [corner & 1, (corner >> 1) & 1, corner >> 2]
    const share = offs.reduce((p, o, c) => p * (o ? at[c] - base[c] : 1 - at[c] + base[c]), 1)
    const entry = offs.reduce((sum, o, c) => sum + (base[c] + o) * TABLE_SIDE ** c, 0) * TABLE_ENTRY
    for (let c = 0; c < 3; c++) out[c] += share * values[entry + c]
  }
  return out as unknown as Triple
}

/** #rrggbb as encoded sRGB, 0..1. */
export const fromHex = (hex: string): Triple =>
  [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16) / 255) as unknown as Triple
