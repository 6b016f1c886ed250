import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react'
import type { Frame } from '@dunkelkammer/contract'
import { ArrowDownWideNarrow, ArrowUpNarrowWide, Filter as FilterIcon, X } from 'lucide-react'
import { useDeferredValue, useEffect, useMemo, useRef, useState, type RefObject } from 'react'
import {
  active,
  cameraOf,
  countOf,
  heldOf,
  inWords,
  leaves,
  lensOf,
  passingBut,
  tally,
  type Filter,
  type FilterKey,
  type Range,
} from './filters'
import { ORDERS, type Order, type OrderId } from './order'

interface Props {
  frames: readonly Frame[]
  filter: Filter
  order: Order
  onFilter(filter: Filter): void
  onOrder(order: Order): void
  words: RefObject<HTMLInputElement | null>
}

/** What narrows the sheet down, as chips that can be taken off, and the order it stands in. */
export function FilterBar(props: Props) {
  const { frames, filter, order, onFilter, onOrder } = props
  const chips = useMemo(
    () =>
      active(filter)
        .filter((k) => k !== 'words')
        .map((key) => ({ key, count: countOf(frames, filter, key) })),
    [frames, filter],
  )
  return (
    <search
      aria-label="Filter and order"
      className="flex min-h-11 flex-wrap items-center gap-2 border-b border-line bg-panel px-6 py-1.5"
    >
      <Words filter={filter} onFilter={onFilter} input={props.words} />
      <Popover className="relative">
        <PopoverButton className="button">
          <FilterIcon className="h-3.5 w-3.5" aria-hidden /> Filter
        </PopoverButton>
        <PopoverPanel className="absolute top-full left-0 z-40 mt-1.5 max-h-[70vh] w-[640px] overflow-y-auto border border-edge bg-panel p-4">
          <Parts frames={frames} filter={filter} onFilter={onFilter} />
        </PopoverPanel>
      </Popover>
      <ul className="flex flex-wrap gap-1.5" aria-label="Filters in use">
        {chips.map(({ key, count }) => (
          <li key={key}>
            <button
              className="flex items-center gap-1.5 border border-edge bg-raised px-2 py-0.5 hover:border-quiet"
              aria-label={`Remove filter ${inWords(filter, key)}`}
              onClick={() => onFilter({ ...filter, [key]: undefined })}
            >
              <span className="max-w-52 truncate">{inWords(filter, key)}</span>
              <span className="text-quiet">{count}</span>
              <X className="h-3 w-3 text-quiet" aria-hidden />
            </button>
          </li>
        ))}
        {active(filter).length > 1 && (
          <li>
            <button className="px-1.5 py-0.5 text-quiet hover:text-bright" onClick={() => onFilter({})}>
              Remove all
            </button>
          </li>
        )}
      </ul>
      <div className="ml-auto flex items-center gap-1">
        <label className="flex items-center gap-2">
          <span className="text-quiet">Sort by</span>
          <select
            className="field !w-auto !py-1"
            value={order.by}
            onChange={(e) => onOrder({ ...order, by: e.target.value as OrderId })}
          >
            {Object.entries(ORDERS).map(([id, label]) => (
              <option key={id} value={id}>
                {label}
              </option>
            ))}
          </select>
        </label>
        <button
          className="icon-button"
          aria-label={order.down ? 'Descending; reverse' : 'Ascending; reverse'}
          title={order.down ? 'Descending' : 'Ascending'}
          onClick={() => onOrder({ ...order, down: !order.down })}
        >
          {order.down ? (
            <ArrowDownWideNarrow className="h-4 w-4" aria-hidden />
          ) : (
            <ArrowUpNarrowWide className="h-4 w-4" aria-hidden />
          )}
        </button>
      </div>
    </search>
  )
}

/** The words asked for; they count once the typing rests. */
function Words({
  filter,
  onFilter,
  input,
}: Pick<Props, 'filter' | 'onFilter'> & { input: RefObject<HTMLInputElement | null> }) {
  const [text, setText] = useState(filter.words ?? '')
  const latest = useRef({ filter, onFilter })
  latest.current = { filter, onFilter }
  useEffect(() => setText(filter.words ?? ''), [filter.words])
  useEffect(() => {
    const { filter: now, onFilter: change } = latest.current
    const wanted = text.trim() || undefined
    if (wanted === now.words) return
    const timer = setTimeout(() => change({ ...latest.current.filter, words: wanted }), 120)
    return () => clearTimeout(timer)
  }, [text])
  return (
    <input
      ref={input}
      type="search"
      className="field !w-44 !py-1"
      placeholder="Words"
      aria-label="Words in names, captions and keywords"
      value={text}
      onChange={(e) => setText(e.target.value)}
      onKeyDown={(e) => {
        if (e.key === 'Escape') e.currentTarget.blur()
      }}
    />
  )
}

type Tally = ReturnType<typeof tally>
/** Least and largest. */
type Ends = readonly [number, number]

/** All that can be asked for, each choice with how many frames it leaves. */
function Parts({ frames, filter: wanted, onFilter }: Pick<Props, 'frames' | 'filter' | 'onFilter'>) {
  // the sheet answers first, then the counts here
  const filter = useDeferredValue(wanted)
  const { open, counted } = useMemo(() => {
    const of = (...keys: FilterKey[]) => passingBut(frames, filter, ...keys)
    return {
      open: {
        stars: of('stars'),
        mark: of('mark', 'bin'),
        held: of('held'),
        edited: of('edited'),
        delivered: of('delivered'),
        camera: of('camera'),
        lens: of('lens'),
        keyword: of('keyword'),
      },
      // counted once for what is asked: a press is drawn before the new counts are there
      counted: { choices: new Map<string, number>(), lists: new Map<string, Tally>() },
    }
  }, [frames, filter])
  const countFor = <K extends keyof typeof open>(key: K, value: Filter[K]): number => {
    const name = JSON.stringify([key, value])
    let count = counted.choices.get(name)
    if (count === undefined) counted.choices.set(name, (count = leaves(open[key], { [key]: value })))
    return count
  }
  const known = useMemo(() => {
    const ends = (of: (f: Frame) => number | undefined): Ends =>
      frames.reduce<Ends>(
        ([low, high], f) => [Math.min(low, of(f) ?? Infinity), Math.max(high, of(f) ?? -Infinity)],
        [Infinity, -Infinity],
      )
    const held = new Set(frames.map(heldOf))
    return {
      ...{ iso: ends((f) => f.metadata.iso), focal: ends((f) => f.metadata.focalLength) },
      held: (['wide', 'upright', 'square'] as const).filter((h) => held.has(h)),
    }
  }, [frames])
  const inBin = useMemo(() => frames.filter((f) => f.mark === 'drop').length, [frames])
  const set = (part: Partial<Filter>) => onFilter({ ...wanted, ...part })
  /** A choice of one part; pressed again it is taken off. */
  const choice = <K extends keyof typeof open>(
    key: K,
    value: Filter[K],
    label: string,
    also: Filter = {},
  ) => (
    <Option
      key={label}
      label={label}
      count={countFor(key, value)}
      on={JSON.stringify(wanted[key]) === JSON.stringify(value)}
      onClick={() =>
        set({ ...also, [key]: JSON.stringify(wanted[key]) === JSON.stringify(value) ? undefined : value })
      }
    />
  )
  const tallied = (key: 'camera' | 'lens' | 'keyword', of: (f: Frame) => readonly string[], none = '') => {
    let found = counted.lists.get(key)
    if (!found) counted.lists.set(key, (found = tally(open[key], of)))
    if (found.length === 0) return <p className="text-quiet">{none}</p>
    return (
      <div className="max-h-32 overflow-y-auto">
        {found.slice(0, 200).map(([value, count]) => (
          <Option
            key={value}
            label={value}
            count={count}
            on={wanted[key] === value}
            onClick={() => set({ [key]: wanted[key] === value ? undefined : value })}
          />
        ))}
      </div>
    )
  }
  const exactly = wanted.stars?.exactly ?? false
  const noBin = { bin: undefined }
  return (
    <div className="grid grid-cols-2 gap-x-6 gap-y-4">
      <Part title="Stars">
        <div className="flex flex-wrap gap-1">
          {(exactly ? [0, 1, 2, 3, 4, 5] : [1, 2, 3, 4, 5]).map((count) =>
            choice('stars', { count, exactly }, exactly ? String(count) : `${count}+`),
          )}
        </div>
        <label className="mt-1 flex items-center gap-2 text-quiet">
          <input
            type="checkbox"
            checked={exactly}
            onChange={(e) => set({ stars: { count: wanted.stars?.count ?? 0, exactly: e.target.checked } })}
          />
          exactly that many
        </label>
      </Part>
      <Part title="Marks">
        {choice('mark', 'keep', 'kept', noBin)}
        {choice('mark', 'none', 'without a mark', noBin)}
        <Option
          label="in the bin"
          count={inBin}
          on={wanted.bin === true}
          onClick={() => set({ bin: wanted.bin ? undefined : true, mark: undefined })}
        />
      </Part>
      <Part title="Orientation">{known.held.map((h) => choice('held', h, h))}</Part>
      <Part title="Status">
        {choice('edited', true, 'edited')}
        {choice('edited', false, 'not edited')}
        {choice('delivered', true, 'delivered')}
        {choice('delivered', false, 'not delivered')}
      </Part>
      <Part title="Camera">{tallied('camera', (f) => [cameraOf(f)])}</Part>
      <Part title="Lens">{tallied('lens', (f) => [lensOf(f)])}</Part>
      <Part title="ISO">
        <RangeFields value={wanted.iso} known={known.iso} label="ISO" onChange={(iso) => set({ iso })} />
      </Part>
      <Part title="Focal length in mm">
        <RangeFields
          value={wanted.focal}
          known={known.focal}
          label="Focal length"
          onChange={(focal) => set({ focal })}
        />
      </Part>
      <Part title="Days">
        <div className="flex items-center gap-2">
          <input
            type="date"
            className="field !py-1"
            aria-label="First day"
            value={wanted.from ?? ''}
            onChange={(e) => set({ from: e.target.value || undefined })}
          />
          <span className="text-quiet">to</span>
          <input
            type="date"
            className="field !py-1"
            aria-label="Last day"
            value={wanted.to ?? ''}
            onChange={(e) => set({ to: e.target.value || undefined })}
          />
        </div>
      </Part>
      <Part title="Keywords">{tallied('keyword', (f) => f.text.keywords, 'No frame has a keyword.')}</Part>
    </div>
  )
}

function Part({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <section aria-label={title} className="min-w-0">
      <h2 className="mb-1 text-quiet">{title}</h2>
      {children}
    </section>
  )
}

function Option(props: { label: string; count: number; on: boolean; onClick(): void }) {
  return (
    <button
      aria-pressed={props.on}
      disabled={props.count === 0 && !props.on}
      onClick={props.onClick}
      className={`mr-1 mb-1 inline-flex max-w-full items-center gap-1.5 border px-2 py-0.5 disabled:text-edge ${props.on ? 'border-safe text-bright' : 'border-line enabled:hover:border-quiet'}`}
    >
      <span className="truncate">{props.label}</span>
      <span className="text-quiet">{props.count}</span>
    </button>
  )
}

function RangeFields(props: {
  value?: Range
  known: Ends
  label: string
  onChange(range: Range | undefined): void
}) {
  const { value, known, label, onChange } = props
  const [low, high] = known
  const set = (key: keyof Range, text: string) => {
    const n = Number(text.replace(',', '.'))
    const next = { ...value, [key]: text.trim() && n >= 0 ? n : undefined }
    onChange(next.from === undefined && next.to === undefined ? undefined : next)
  }
  return (
    <div className="flex items-center gap-2">
      <input
        className="field !w-20 !py-1"
        inputMode="decimal"
        aria-label={`${label} from`}
        placeholder={isFinite(low) ? String(low) : ''}
        value={value?.from ?? ''}
        onChange={(e) => set('from', e.target.value)}
      />
      <span className="text-quiet">to</span>
      <input
        className="field !w-20 !py-1"
        inputMode="decimal"
        aria-label={`${label} to`}
        placeholder={isFinite(high) ? String(high) : ''}
        value={value?.to ?? ''}
        onChange={(e) => set('to', e.target.value)}
      />
    </div>
  )
}
