import { shareField, worded } from '../field'
import { z } from 'zod'

const part = (name: string) =>
  z
    .object({
      low: shareField(-1, 1, 0, `Low range${name}`),
      middle: shareField(-1, 1, 0, `Middle range${name}`),
      high: shareField(-1, 1, 0, `High range${name}`),
    })
    .prefault({})

export const RANGE_LINES = ['all', 'red', 'green', 'blue'] as const
export type RangeLine = (typeof RANGE_LINES)[number]
export const RANGES = ['low', 'middle', 'high'] as const
export type CurveRange = (typeof RANGES)[number]

/** Over the axis of the curve: three ranges with two borders between them, each raised or lowered as a whole. */
export const RangeCurveSchema = z
  .object({
    borders: worded(
      z.tuple([z.number().min(0.1).max(0.8), z.number().min(0.2).max(0.9)]).default([0.35, 0.7]),
      { label: 'Borders of the ranges' },
    ),
    all: part(''),
    red: part(', red'),
    green: part(', green'),
    blue: part(', blue'),
  })
  .refine(({ borders: [a, b] }) => b - a > 0.1 - 1e-6, { message: 'The borders keep a tenth apart.' })
export type RangeCurveSettings = z.infer<typeof RangeCurveSchema>
