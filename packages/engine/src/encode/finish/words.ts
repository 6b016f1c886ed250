import { create, type Font, type Glyph } from 'fontkit'
import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'

/** Parts of the shipped typeface, by script; a letter is looked for in this order. */
const SCRIPTS = ['latin', 'latin-ext', 'greek', 'greek-ext', 'cyrillic', 'cyrillic-ext', 'vietnamese']

const require = createRequire(import.meta.url)
const fonts = new Map<string, Font>()
function fontOf(script: string): Font {
  let font = fonts.get(script)
  if (!font) {
    const file = require.resolve(`@fontsource-variable/inter/files/inter-${script}-wght-normal.woff2`)
    font = create(readFileSync(file)) as Font
    fonts.set(script, font)
  }
  return font
}

/** Outlines of words, y upwards from the line that letters stand on, in units of the letters' height. */
export interface Outlines {
  /** As the path of an SVG picture, y downwards from the top of the line. */
  path: string
  width: number
  /** Of the line: from the tops of the highest letters to the bottoms of the lowest. */
  height: number
}

/** The part of the typeface that has a letter; the first one's sign for what is missing where none has. */
const holding = (letter: string): Font =>
  SCRIPTS.map(fontOf).find((font) => font.hasGlyphForCodePoint(letter.codePointAt(0)!)) ?? fontOf('latin')

/** One line of words in the shipped typeface as outlines, 1 unit high. */
export function outlinesOf(words: string): Outlines {
  const runs: { font: Font; text: string }[] = []
  for (const letter of words.normalize('NFC').replace(/\s/g, ' ')) {
    const font = holding(letter)
    const last = runs[runs.length - 1]
    if (last?.font === font) last.text += letter
    else runs.push({ font, text: letter })
  }
  const { ascent, descent, unitsPerEm } = fontOf('latin')
  const unit = (ascent - descent) / unitsPerEm
  const parts: string[] = []
  let x = 0
  for (const { font, text } of runs) {
    const { glyphs, positions } = font.layout(text)
    const scale = 1 / font.unitsPerEm / unit
    glyphs.forEach((glyph: Glyph, i) => {
      const at = positions[i]
      parts.push(
        glyph.path
          .scale(scale, -scale)
          .translate(x + at.xOffset * scale, ascent / (ascent - descent) - at.yOffset * scale)
          .toSVG(),
      )
      x += at.xAdvance * scale
    })
  }
  return { path: parts.join(''), width: x, height: 1 }
}
