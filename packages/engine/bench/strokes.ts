import { bulkName, encodePath, readDevelopment } from '@dunkelkammer/core'
import {
  boathouse,
  demoFrames,
  needed,
  objectMask,
  renderCrop,
  throughLens,
  type Scene,
} from '@dunkelkammer/demo'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { builtEngineFiles, createEngine } from '../src/node'
import { projectRoot } from '../src/paths'

/** Objects of the demo frames that strokes are painted on. */
const OBJECTS: readonly { scene: Scene; mask: Scene; name: string }[] = [
  { scene: boathouse, mask: objectMask(boathouse, 'blue boat'), name: 'blue boat' },
  { scene: boathouse, mask: objectMask(boathouse, 'red boat'), name: 'red boat beside it' },
  { scene: boathouse, mask: objectMask(boathouse, 'room'), name: 'room in the door' },
]
/** How far from the border a rough stroke ends, pixels, and its radius. */
const ROUGH = 10
const RADIUS = 22

type Way = { x: number; y: number }[]

/** Where the renderer shows an object: shares of each pixel. */
function truthOf(scene: Scene, mask: Scene): Float32Array {
  const frame = demoFrames.find((f) => f.scene === scene)!
  const crop = { x: 0, y: 0, width: frame.width, height: frame.height }
  const part = needed(frame.lens, frame, crop)
  const rgb = renderCrop(mask, frame.width, frame.height, part)
  const light = throughLens(frame.lens, frame, { ...part, rgb }, crop)
  return Float32Array.from({ length: frame.width * frame.height }, (_, i) => light[3 * i + 1])
}

/** Rough strokes along the inside of an object's border, and in lines over what they leave. */
function roughly(truth: Float32Array, width: number, height: number): Way[] {
  const inside = (x: number, y: number) =>
    x >= 0 && y >= 0 && x < width && y < height && truth[Math.floor(y) * width + Math.floor(x)] > 0.5
  let [cx, cy, n] = [0, 0, 0]
  for (let i = 0; i < truth.length; i++)
    if (truth[i] > 0.5) {
      cx += i % width
      cy += Math.floor(i / width)
      n++
    }
  cx /= n
  cy /= n
  const turns = Array.from({ length: 361 }, (_, i) => (i / 360) * 2 * Math.PI)
  const along = (t: number, r: number) => ({ x: cx + r * Math.cos(t), y: cy + r * Math.sin(t) })
  const reach = turns.map((t) => {
    let r = Math.hypot(width, height)
    for (let p = along(t, r); r > 0 && !inside(p.x, p.y); p = along(t, r)) r -= 0.5
    return r
  })
  const border = turns.map((t, i) => along(t, reach[i]))
  const fromBorder = ({ x, y }: Way[number]) => Math.min(...border.map((b) => Math.hypot(b.x - x, b.y - y)))
  const ring: Way = turns.map((t, i) => {
    const wanted = RADIUS + ROUGH * Math.sin(9 * t + 2)
    let r = reach[i]
    while (r > 0 && fromBorder(along(t, r)) < wanted) r--
    return along(t, r)
  })
  const ways = [ring]
  // lines whose whole width is well within
  const room = RADIUS + 12
  for (let y = 0; y < height; y += RADIUS) {
    let line: Way = []
    for (let x = 0; x < width; x += 4) {
      const fits = [0, 45, 90, 135, 180, 225, 270, 315].every((a) =>
        inside(x + room * Math.cos((a * Math.PI) / 180), y + room * Math.sin((a * Math.PI) / 180)),
      )
      if (fits) line.push({ x, y })
      if ((!fits || x + 4 >= width) && line.length > 0) {
        ways.push(line)
        line = []
      }
    }
  }
  return ways
}

/** How well strokes that were roughly painted on an object hold it, intersection over union. */
export async function strokeTable(): Promise<string> {
  const engine = createEngine(builtEngineFiles())
  const bulk = new Map<string, Uint8Array>()
  engine.bulkSource = (name) => Promise.resolve(bulk.get(name)!)
  const rows = [
    `| strokes within ${ROUGH} px of the border of | as painted | following edges (0.97 asked) | ms |`,
    '|---|--:|--:|--:|',
  ]
  for (const { scene, mask, name } of OBJECTS) {
    const frame = demoFrames.find((f) => f.scene === scene)!
    const { width, height } = frame
    const truth = truthOf(scene, mask)
    const long = Math.max(width, height)
    const shapes = roughly(truth, width, height).map((way, i) => {
      const path = encodePath(way.map(({ x, y }) => ({ x: (x - way[0].x) / long, y: (y - way[0].y) / long })))
      bulk.set(bulkName(path), path)
      return {
        ...{ id: `${i}`, kind: 'stroke', x: way[0].x / long, y: way[0].y / long },
        ...{ path: bulkName(path), radius: RADIUS / long, softness: 0 },
      }
    })
    const file = readFileSync(join(projectRoot(), 'packages/demo/frames', frame.fileName))
    const picture = await engine.open(new Uint8Array(file))
    const agreement = async (follow: boolean) => {
      const areas = [{ id: 'a', mask: { shapes: shapes.map((s) => ({ ...s, follow })) } }]
      const start = performance.now()
      const { grey } = await picture.ask('mask', readDevelopment({ steps: { areas: { areas } } }), 0)
      const ms = performance.now() - start
      let [both, any] = [0, 0]
      for (let i = 0; i < grey.length; i++) {
        const [is, should] = [grey[i] > 127, truth[i] > 0.5]
        if (is && should) both++
        if (is || should) any++
      }
      return { share: both / any, ms }
    }
    await agreement(false)
    const [plain, followed] = [await agreement(false), await agreement(true)]
    rows.push(
      `| ${name} | ${plain.share.toFixed(3)} | ${followed.share.toFixed(3)} | ${followed.ms.toFixed(0)} |`,
    )
    engine.close(picture)
  }
  engine.stop()
  return rows.join('\n')
}
