import type { ReactNode } from 'react'
import { ModalDialog } from './ModalDialog'

const WIDTHS = { 460: 'w-[460px]', 640: 'w-[640px]', 900: 'w-[900px]' } as const

/** A dialog in the middle of the page. */
export function Modal(props: {
  open: boolean
  onClose(): void
  title: string
  /** 460 pixels where not said. */
  width?: 640 | 900
  children: ReactNode
}) {
  if (!props.open) return null
  return (
    <ModalDialog
      onClose={props.onClose}
      label={props.title}
      className={`m-auto max-h-[calc(100%-48px)] overflow-y-auto border border-edge bg-panel p-6 backdrop:bg-black/60 ${WIDTHS[props.width ?? 460]}`}
    >
      <h2 className="mb-5 text-base font-semibold text-bright">{props.title}</h2>
      {props.children}
    </ModalDialog>
  )
}
