/** Renders rows of a demo frame's scene to a file of float32 RGB: `renderBand INDEX FROM TO FILE`. */
import { writeFileSync } from 'node:fs'
import { renderCrop } from '../render/march'
import { demoFrames } from '../scenes'

const [index, from, to, file] = process.argv.slice(2)
const { scene, width, height } = demoFrames[Number(index)]
const y = Number(from)
const rows = renderCrop(scene, width, height, { x: 0, y, width, height: Number(to) - y })
writeFileSync(file, new Uint8Array(rows.buffer))
