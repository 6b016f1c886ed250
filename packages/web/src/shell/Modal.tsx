import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react'
import type { ReactNode } from 'react'

/** A dialog in the middle of the page. */
export function Modal(props: {
  open: boolean
  onClose(): void
  title: string
  wide?: boolean
  children: ReactNode
}) {
  return (
    <Dialog open={props.open} onClose={props.onClose} className="relative z-50">
      <DialogBackdrop className="fixed inset-0 bg-black/60" />
      <div className="fixed inset-0 flex items-center justify-center p-6">
        <DialogPanel
          className={`max-h-full overflow-y-auto border border-edge bg-panel p-6 ${props.wide ? 'w-[640px]' : 'w-[460px]'}`}
        >
          <DialogTitle className="mb-5 text-base font-semibold text-bright">{props.title}</DialogTitle>
          {props.children}
        </DialogPanel>
      </div>
    </Dialog>
  )
}
