/**
 * Photographs a rendered demo frame: `assemble INDEX BANDS-FOLDER FILE [PREVIEW.jpg WIDTH HEIGHT]`. The bands are
 * float32 RGB rows of the scene, its margin included, in order of their names.
 */
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { demoFrames } from '../scenes'
import { exposeCrop, frameFile, RENDER_MARGIN as M } from '../shoot'

const [index, folder, file, preview, width, height] = process.argv.slice(2)
const frame = demoFrames[Number(index)]
const number = (name: string) => Number(name.replace(/\D/g, ''))
const names = readdirSync(folder).filter((n) => n.endsWith('.f32'))
names.sort((a, b) => number(a.slice(0, -4)) - number(b.slice(0, -4)))
const bytes = Buffer.concat(names.map((n) => readFileSync(join(folder, n))))
const rgb = new Float32Array(bytes.buffer, bytes.byteOffset, bytes.length / 4)
const scene = { x: -M, y: -M, width: frame.width + 2 * M, height: frame.height + 2 * M, rgb }
const { mosaic } = exposeCrop(frame, scene, { x: 0, y: 0, width: frame.width, height: frame.height })
const jpeg = preview
  ? { jpeg: readFileSync(preview), width: Number(width), height: Number(height) }
  : undefined
writeFileSync(file, frameFile(frame, mosaic, jpeg))
