import type { HandOver } from '@dunkelkammer/core'
import { useQuery } from '@tanstack/react-query'
import { api } from '../../api/client'
import { Pick } from './fields'

const NOBODY = 'nobody'
const FOLDER = 'folder'
/** Before the names of programs, which may be any. */
const TO = 'to '

/** Whom files are given to when they are made. */
export function HandOverFields({
  handOver,
  onChange,
}: {
  handOver: HandOver | null
  onChange(handOver: HandOver | null): void
}) {
  const programs = useQuery({ queryKey: ['programs'], queryFn: api.programs })
  const named = handOver?.to === 'program' ? handOver.program : undefined
  // one that this server was not started with stays chosen until another is
  const known = [...new Set([...(programs.data ?? []), ...(named === undefined ? [] : [named])])]
  const value = named === undefined ? (handOver?.to ?? NOBODY) : TO + named
  return (
    <>
      <Pick
        label="Give it to"
        value={value}
        options={[
          { value: NOBODY, label: 'Nobody' },
          { value: FOLDER, label: 'Whoever watches the folder' },
          ...known.map((name) => ({ value: TO + name, label: name })),
        ]}
        onChange={(to) =>
          onChange(
            to === NOBODY
              ? null
              : to === FOLDER
                ? { to: 'folder' }
                : { to: 'program', program: to.slice(TO.length) },
          )
        }
      />
      {handOver && (
        <p className="hint">
          What is saved over the file, or beside it under a name that begins with its own, comes back as a
          frame in the stack of the first.
        </p>
      )}
      {named !== undefined && programs.data && !programs.data.includes(named) && (
        <p className="hint">The server was started without a program called “{named}”.</p>
      )}
    </>
  )
}
