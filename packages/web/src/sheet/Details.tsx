import type { Frame, Text } from '@dunkelkammer/contract'
import { useEffect, useState, type KeyboardEvent } from 'react'
import { flushSync } from 'react-dom'
import { keywordsOf } from '../bringIn/BringInDialog'
import { AboutList } from '../shell/AboutList'

const FIELDS = [
  ['title', 'Title', 300],
  ['caption', 'Caption', 4000],
  ['creator', 'Creator', 300],
  ['copyright', 'Copyright', 300],
] as const

interface Props {
  /** The frames that are chosen. */
  frames: readonly Frame[]
  onText(text: (f: Frame) => Partial<Text>, label: string): void
  onSidecars(): void
  onDust(): void
  /** Copies the settings of the frame in hand. */
  onCopySettings(): void
  /** Pastes settings that were copied; missing where none were. */
  onPasteSettings?(): void
  /** The frame that they come from. */
  settingsOf?: string
  onPreset(): void
  /** Has the other frames agree with the one in hand; missing where only one is chosen. */
  onMatch?(): void
  /** The name of that one. */
  matchTo?: string
  onDeliver(): void
  /** Pastes the area that was copied; missing where none was. */
  onPaste?(): void
  /** The name of that area. */
  pasted?: string
  /** Copies originals that were left where they are into the library. */
  onCopies(): void
}

/** What the camera noted of a frame, and what the photographer writes of one or many. */
export function Details(props: Props) {
  const { frames, onText, onSidecars, onDust, onPaste, pasted, onCopies } = props
  if (frames.length === 0)
    return <p className="p-4 text-quiet">Choose frames to see and edit their details.</p>
  const one = frames.length === 1 ? frames[0] : undefined
  const elsewhere = frames.filter((f) => f.inPlace !== undefined)
  return (
    <div className="flex flex-col gap-4 p-4">
      <h2 className="truncate text-bright" title={one?.fileName}>
        {one ? one.fileName : `${frames.length} frames`}
      </h2>
      {one && <AboutList frame={one} />}
      {elsewhere.length > 0 && (
        <button
          className="button"
          title="The originals of these frames lie outside the library. A copy does without that folder."
          onClick={onCopies}
        >
          Copy {elsewhere.length === 1 ? '1 original' : `${elsewhere.length} originals`} into the library
        </button>
      )}
      {FIELDS.map(([key, label, most]) => (
        <TextField
          key={key}
          label={label}
          most={most}
          long={key === 'caption'}
          values={frames.map((f) => f.text[key])}
          onWrite={(value) => onText(() => ({ [key]: value }), `${label} of ${countOf(frames)}`)}
        />
      ))}
      <Keywords frames={frames} onText={onText} />
      <button className="button button-main" onClick={props.onDeliver}>
        Deliver {countOf(frames)}
      </button>
      <button className="button" onClick={props.onPreset}>
        Apply a preset to {countOf(frames)}
      </button>
      {props.onMatch && (
        <button
          className="button truncate"
          title={`Exposure and white of the other frames, so that they agree with ${props.matchTo}`}
          onClick={props.onMatch}
        >
          Match light to {props.matchTo}
        </button>
      )}
      <div className="flex gap-2">
        <button
          className="button flex-1"
          title="Copy settings of the frame in hand"
          onClick={props.onCopySettings}
        >
          Copy settings
        </button>
        <button
          className="button flex-1"
          disabled={!props.onPasteSettings}
          title={
            props.settingsOf === undefined
              ? 'No settings have been copied'
              : `Paste settings of ${props.settingsOf} into ${countOf(frames)}`
          }
          onClick={props.onPasteSettings}
        >
          Paste settings
        </button>
      </div>
      {onPaste && (
        <button
          className="button truncate"
          title={`The area “${pasted}”, as it was copied`}
          onClick={onPaste}
        >
          Paste “{pasted}” into {countOf(frames)}
        </button>
      )}
      <button className="button" onClick={onDust}>
        Mend dust in {countOf(frames)}
      </button>
      <button className="button" onClick={onSidecars}>
        Write sidecars of {countOf(frames)}
      </button>
    </div>
  )
}

const countOf = (frames: readonly Frame[]) => (frames.length === 1 ? '1 frame' : `${frames.length} frames`)

/** A field for the words of one or many; it writes when it is left, and only what was changed. */
function TextField(props: {
  label: string
  most: number
  long: boolean
  values: readonly string[]
  onWrite(value: string): void
}) {
  const { values } = props
  const same = values.every((v) => v === values[0])
  const shown = same ? values[0] : ''
  const [text, setText] = useState(shown)
  const [touched, setTouched] = useState(false)
  useEffect(() => {
    setText(shown)
    setTouched(false)
  }, [shown, values.length])
  const field = {
    className: 'field',
    value: text,
    maxLength: props.most,
    placeholder: same ? '' : 'of several kinds',
    onChange: (e: { target: { value: string } }) => {
      setText(e.target.value)
      setTouched(true)
    },
    onBlur: () => {
      const now = text.trim()
      // nothing in a field of several kinds is not the wish to empty them all
      if (touched && now !== shown.trim()) props.onWrite(now)
      setTouched(false)
    },
    onKeyDown: (e: KeyboardEvent<HTMLElement>) => {
      if (e.key === 'Enter' && !props.long) e.currentTarget.blur()
      if (e.key !== 'Escape') return
      // what is let go of is not written: the field is left once it holds what it held
      flushSync(() => {
        setText(shown)
        setTouched(false)
      })
      e.currentTarget.blur()
    },
  }
  return (
    <label className="flex flex-col gap-1">
      <span className="text-quiet">{props.label}</span>
      {props.long ? <textarea rows={3} {...field} /> : <input {...field} />}
    </label>
  )
}

/** Keywords of all chosen frames, those that only some have among them; adding and taking off counts for all. */
function Keywords({ frames, onText }: Pick<Props, 'frames' | 'onText'>) {
  const [text, setText] = useState('')
  const counts = new Map<string, number>()
  for (const f of frames) for (const k of f.text.keywords) counts.set(k, (counts.get(k) ?? 0) + 1)
  const words = [...counts].sort((a, b) => a[0].localeCompare(b[0]))
  const add = () => {
    const fresh = keywordsOf(text)
    setText('')
    if (fresh.length)
      onText(
        (f) => ({ keywords: [...new Set([...f.text.keywords, ...fresh])] }),
        `Keywords of ${countOf(frames)}`,
      )
  }
  const takeOff = (word: string) =>
    onText(
      (f) => ({ keywords: f.text.keywords.filter((k) => k !== word) }),
      `Keyword ${word} off ${countOf(frames)}`,
    )
  return (
    <div className="flex flex-col gap-1">
      <label className="flex flex-col gap-1">
        <span className="text-quiet">Keywords</span>
        <input
          className="field"
          value={text}
          placeholder="add, separated by commas"
          onChange={(e) => setText(e.target.value)}
          onBlur={add}
          onKeyDown={(e) => {
            if (e.key === 'Enter') add()
            if (e.key !== 'Escape') return
            flushSync(() => setText(''))
            e.currentTarget.blur()
          }}
        />
      </label>
      <ul className="flex flex-wrap gap-1">
        {words.map(([word, n]) => (
          <li key={word}>
            <button
              className="max-w-full truncate border border-line px-1.5 text-[12px] hover:border-quiet"
              aria-label={`Remove the keyword ${word}`}
              onClick={() => takeOff(word)}
            >
              {word}
              {n < frames.length && <span className="text-quiet"> {n}</span>} ×
            </button>
          </li>
        ))}
      </ul>
    </div>
  )
}
