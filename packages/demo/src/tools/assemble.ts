/**
 * Photographs a rendered demo frame: `assemble INDEX BANDS-FOLDER FILE [PREVIEW.jpg WIDTH HEIGHT]`. The bands are
 * float32 RGB rows of the scene, in order of their names.
 */
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { BLUR_MARGIN } from '../camera/camera'
import { demoFrames } from '../scenes'
import { exposeCrop, frameFile } from '../shoot'

const [index, folder, file, preview, width, height] = process.argv.slice(2)
const frame = demoFrames[Number(index)]
const number = (name: string) => Number(name.replace(/\D/g, ''))
const names = readdirSync(folder).filter((n) => n.endsWith('.f32'))
names.sort((a, b) => number(a.slice(0, -4)) - number(b.slice(0, -4)))
const bytes = Buffer.concat(names.map((n) => readFileSync(join(folder, n))))
const rows = new Float32Array(bytes.buffer, bytes.byteOffset, bytes.length / 4)

// the scene goes on beyond the frame; for the two lines the blur needs there, its edge will do
const m = BLUR_MARGIN
const wide = frame.width + 2 * m
const around = new Float32Array(wide * (frame.height + 2 * m) * 3)
for (let y = 0; y < frame.height + 2 * m; y++)
  for (let x = 0; x < wide; x++) {
    const sx = Math.min(Math.max(x - m, 0), frame.width - 1)
    const sy = Math.min(Math.max(y - m, 0), frame.height - 1)
    for (let c = 0; c < 3; c++) around[(y * wide + x) * 3 + c] = rows[(sy * frame.width + sx) * 3 + c]
  }
const { mosaic } = exposeCrop(frame, around, { x: 0, y: 0, width: frame.width, height: frame.height })
const jpeg = preview
  ? { jpeg: readFileSync(preview), width: Number(width), height: Number(height) }
  : undefined
writeFileSync(file, frameFile(frame, mosaic, jpeg))
