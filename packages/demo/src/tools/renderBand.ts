/**
 * Renders rows of a demo frame's scene, its margin included, to a file of float32 RGB: `renderBand INDEX FROM TO
 * FILE`, rows counted from the top of the margin.
 */
import { writeFileSync } from 'node:fs'
import { renderCrop } from '../render/march'
import { RENDER_MARGIN as M } from '../shoot'
import { demoFrames } from '../scenes'

const [index, from, to, file] = process.argv.slice(2)
const { scene, width, height } = demoFrames[Number(index)]
const y = Number(from)
const crop = { x: -M, y: y - M, width: width + 2 * M, height: Number(to) - y }
const rows = renderCrop(scene, width, height, crop)
writeFileSync(file, new Uint8Array(rows.buffer))
