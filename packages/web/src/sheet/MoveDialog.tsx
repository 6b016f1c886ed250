import { useState } from 'react'
import { api, sentence } from '../api/client'
import { queryClient, useShoots } from '../api/queries'
import { Modal } from '../shell/Modal'
import { ErrorNotice } from '../shell/Notice'

/** Chooses the shoot that frames are moved to: one that is there, or a new one. */
export function MoveDialog(props: {
  count: number
  from: string
  onClose(): void
  onMove(shootId: string, name: string): void
}) {
  const { data: shoots = [] } = useShoots()
  const others = shoots.filter((s) => s.id !== props.from)
  const [to, setTo] = useState('')
  const [name, setName] = useState('')
  const [problem, setProblem] = useState<string>()
  const chosen = others.find((s) => s.id === to)
  const move = async () => {
    if (chosen) return props.onMove(chosen.id, chosen.name)
    try {
      const made = await api.createShoot(name.trim())
      void queryClient.invalidateQueries({ queryKey: ['shoots'] })
      props.onMove(made.id, made.name)
    } catch (error) {
      setProblem(sentence(error))
    }
  }
  return (
    <Modal open onClose={props.onClose} title="Move to another shoot">
      <form
        className="flex flex-col gap-3"
        onSubmit={(e) => {
          e.preventDefault()
          void move()
        }}
      >
        <label className="flex items-center justify-between gap-3">
          Shoot
          <select className="field !w-72" value={to} onChange={(e) => setTo(e.target.value)}>
            <option value="">A new shoot</option>
            {others.map((s) => (
              <option key={s.id} value={s.id}>
                {s.name}
              </option>
            ))}
          </select>
        </label>
        {!chosen && (
          <label className="flex items-center justify-between gap-3">
            Its name
            <input
              className="field !w-72"
              maxLength={300}
              value={name}
              onChange={(e) => setName(e.target.value)}
            />
          </label>
        )}
        <p className="text-quiet">
          Versions, stars and words go with the frames. Originals stay where they are.
        </p>
        {problem && <ErrorNotice>{problem}</ErrorNotice>}
        <div className="flex justify-end gap-2">
          <button type="button" className="button" onClick={props.onClose}>
            Cancel
          </button>
          <button type="submit" className="button button-main" disabled={!chosen && !name.trim()}>
            Move {props.count === 1 ? '1 frame' : `${props.count} frames`}
          </button>
        </div>
      </form>
    </Modal>
  )
}
