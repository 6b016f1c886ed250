import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core'
import { restrictToParentElement, restrictToVerticalAxis } from '@dnd-kit/modifiers'
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import { GripVertical } from 'lucide-react'
import { useEffect, useRef, type ReactNode } from 'react'

/** Pixels from which on a press is a drag. */
const PULL = 4

/** A list whose rows are put in order by dragging their grip, or with it by Space and the arrow keys. */
export function SortableList<T extends { id: string }>(props: {
  label: string
  items: readonly T[]
  chosen?: string
  className?: string
  onPlace(id: string, to: number): void
  /** What a row is called where it is read out. */
  name(item: T, index: number): string
  row(item: T, index: number): ReactNode
  onHover?(id: string | undefined): void
}) {
  const { items, chosen, onPlace, onHover } = props
  const list = useRef<HTMLUListElement>(null)
  useEffect(() => {
    // the list alone: what it stands in must not jump
    const [box, row] = [list.current, list.current?.querySelector<HTMLElement>('[aria-current=true]')]
    if (!box || !row) return
    const top = row.offsetTop - box.offsetTop
    const bottom = top + row.offsetHeight - box.clientHeight
    box.scrollTop = Math.min(Math.max(box.scrollTop, bottom), top)
  }, [chosen, items.length])
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: PULL } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  )
  const end = ({ active, over }: DragEndEvent) => {
    const to = items.findIndex(({ id }) => id === over?.id)
    if (over && over.id !== active.id && to >= 0) onPlace(String(active.id), to)
  }
  const ids = items.map(({ id }) => id)
  const says = (id: string | number) => {
    const at = ids.indexOf(String(id))
    return at < 0 ? 'The row' : props.name(items[at], at)
  }
  const place = (over: { id: string | number } | null) => (over ? ids.indexOf(String(over.id)) + 1 : 0)
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      modifiers={[restrictToVerticalAxis, restrictToParentElement]}
      onDragEnd={end}
      accessibility={{
        screenReaderInstructions: {
          draggable: 'Press Space, then the arrow keys to move the row, and Space again to put it there.',
        },
        announcements: {
          onDragStart: ({ active }) => `${says(active.id)} taken.`,
          onDragOver: ({ active, over }) =>
            over ? `${says(active.id)} at place ${place(over)}.` : undefined,
          onDragEnd: ({ active, over }) => `${says(active.id)} put at place ${place(over)}.`,
          onDragCancel: ({ active }) => `${says(active.id)} back where it was.`,
        },
      }}
    >
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        <ul
          ref={list}
          aria-label={props.label}
          className={`overflow-y-auto border border-edge ${props.className ?? ''}`}
          onPointerLeave={() => onHover?.(undefined)}
        >
          {items.map((item, i) => (
            <Row
              key={item.id}
              id={item.id}
              name={props.name(item, i)}
              current={item.id === chosen}
              onHover={onHover}
            >
              {props.row(item, i)}
            </Row>
          ))}
        </ul>
      </SortableContext>
    </DndContext>
  )
}

function Row(props: {
  id: string
  name: string
  current: boolean
  onHover?(id: string): void
  children: ReactNode
}) {
  const { id, name, current } = props
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } =
    useSortable({ id })
  return (
    <li
      ref={setNodeRef}
      aria-current={current}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={`relative flex items-center gap-1 pr-1 ${current ? 'bg-raised text-bright' : 'bg-panel text-text'} ${isDragging ? 'z-10 outline outline-edge' : ''}`}
      onPointerEnter={() => props.onHover?.(id)}
    >
      <button
        ref={setActivatorNodeRef}
        {...attributes}
        {...listeners}
        aria-label={`Move ${name}`}
        title="Drag to reorder"
        className="flex h-6 w-4 shrink-0 cursor-grab touch-none items-center justify-center text-edge hover:text-bright"
      >
        <GripVertical className="h-3.5 w-3.5" aria-hidden />
      </button>
      {props.children}
    </li>
  )
}
