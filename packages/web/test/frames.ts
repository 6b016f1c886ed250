import { NO_TEXT, type Frame } from '@dunkelkammer/contract'

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`

/** A made-up frame; what is not said is ordinary. */
export const frame = (n: number, part: Partial<Frame> = {}): Frame => ({
  id: id(n),
  shootId: id(0),
  fileName: `HM${String(n).padStart(4, '0')}.dng`,
  width: 300,
  height: 200,
  fileSize: 1000 + n,
  format: 'dng',
  hasPreview: true,
  rating: 0,
  mark: 'none',
  text: NO_TEXT,
  edited: false,
  delivered: false,
  thumb: '',
  ...part,
  metadata: {
    make: 'Ostrava & Linde',
    model: 'Veldrom 3',
    taken: `2026-05-14T10:00:${String(n).padStart(2, '0')}`,
    orientation: 1,
    ...part.metadata,
  },
})
