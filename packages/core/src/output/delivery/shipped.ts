import { DeliverySchema, type Delivery } from './delivery'

/** The deliveries that a new library begins with. */
export const SHIPPED_DELIVERIES: readonly Delivery[] = [
  { name: 'JPEG, full size', format: { kind: 'jpeg' as const, quality: 92 } },
  {
    name: 'Web gallery',
    format: { kind: 'jpeg' as const, quality: 85 },
    size: { by: 'long edge' as const, pixels: 2400, ppi: 96 },
    sharpening: { medium: 'screen' as const },
    metadata: 'no position' as const,
    place: { in: 'library' as const, subfolder: 'web' },
  },
  {
    name: 'Calendar sheet',
    format: { kind: 'tiff' as const, bits: 16 as const },
    size: { by: 'print' as const, widthCm: 42, heightCm: 29.7, ppi: 300 },
    sharpening: { medium: 'matt paper' as const },
    space: 'oprgb' as const,
    place: { in: 'library' as const, subfolder: 'print' },
  },
  {
    name: 'Contact sheet',
    format: {
      kind: 'pdf' as const,
      columns: 4,
      rows: 5,
      ppi: 200,
      caption: '{name}',
      turn: 'upright' as const,
    },
    sharpening: { medium: 'matt paper' as const },
    fileName: '{shoot}, contact sheet',
    place: { in: 'library' as const, subfolder: 'print' },
  },
  {
    name: 'Retouching',
    format: { kind: 'tiff' as const, bits: 16 as const, compression: 'none' as const },
    space: 'oprgb' as const,
    place: { in: 'library' as const, subfolder: 'retouching' },
    handOver: { to: 'folder' as const },
  },
  {
    name: 'Originals',
    format: { kind: 'original' as const },
    place: { in: 'library' as const, subfolder: 'originals' },
  },
].map((delivery) => DeliverySchema.parse(delivery))
