import type { Frame } from '@dunkelkammer/contract'
import { Disclosure, DisclosureButton, DisclosurePanel } from '@headlessui/react'
import { ChevronDown, ChevronUp } from 'lucide-react'
import { memo } from 'react'
import { AboutList } from '../../shell/AboutList'
import { takingLine } from '../../shell/format'

/** What is known of the frame, at the foot of the drawer: in one line, or all of it. */
export const AboutFrame = memo(function AboutFrame({ frame }: { frame: Frame }) {
  const words = [frame.text.title, frame.text.caption, frame.text.keywords.join(', ')].filter(Boolean)
  return (
    <Disclosure
      as="section"
      aria-label="About the frame"
      className="shrink-0 border-t border-line text-[12px]"
    >
      {({ open }) => (
        <>
          <DisclosureButton className="flex w-full items-center gap-2 px-4 py-2 text-left text-quiet hover:text-bright">
            <span className="min-w-0 flex-1 truncate">{takingLine(frame) || frame.fileName}</span>
            {open ? (
              <ChevronDown className="h-4 w-4" aria-hidden />
            ) : (
              <ChevronUp className="h-4 w-4" aria-hidden />
            )}
          </DisclosureButton>
          <DisclosurePanel className="max-h-72 overflow-y-auto px-4 pb-2">
            <AboutList frame={frame} />
            {words.map((w, i) => (
              <p key={i} className="mt-1 break-words text-quiet">
                {w}
              </p>
            ))}
          </DisclosurePanel>
        </>
      )}
    </Disclosure>
  )
})
