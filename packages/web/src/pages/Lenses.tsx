import type { LensImported, LensSummary } from '@dunkelkammer/contract'
import { Trash2 } from 'lucide-react'
import { useRef, useState } from 'react'
import { useSearchParams } from 'react-router'
import { api, sentence } from '../api/client'
import { queryClient, useLens, useLenses, useNewFrames } from '../api/queries'
import { Toggle } from '../controls/Toggle'
import { Awaited } from '../shell/Awaited'
import { ErrorNotice } from '../shell/Notice'
import { Page } from '../shell/Page'
import { LensCurves } from './LensCurves'
import { focalsWord } from './lensWords'
import { HiddenFiles } from '../controls/HiddenFiles'

const ORIGINS: Record<LensSummary['origin'], string> = {
  shipped: 'built in',
  imported: 'imported',
  picture: 'from a picture',
}

/** Profiles of lenses: what is there, taking in more, and what each of them knows. */
export function LensesPage() {
  const [search, setSearch] = useSearchParams()
  const [words, setWords] = useState('')
  const query = useLenses(words)
  const [busy, setBusy] = useState(false)
  const [problem, setProblem] = useState<string>()
  const [imported, setImported] = useState<LensImported>()
  const files = useRef<HTMLInputElement>(null)
  const chosen = search.get('lens') ?? undefined
  const take = async (how: () => Promise<LensImported>) => {
    setBusy(true)
    setProblem(undefined)
    try {
      setImported(await how())
      await queryClient.invalidateQueries({ queryKey: ['lenses'] })
    } catch (error) {
      setImported(undefined)
      setProblem(sentence(error))
    } finally {
      setBusy(false)
    }
  }
  const takeFiles = (list: readonly File[]) =>
    take(async () => {
      const sum: LensImported = { lenses: 0, cameras: 0, leftOut: 0, problems: [] }
      for (const file of list) {
        const one = await api.importLenses(file)
        sum.lenses += one.lenses
        sum.cameras += one.cameras
        sum.leftOut += one.leftOut
        sum.problems.push(...one.problems)
      }
      return sum
    })
  const data = query.data
  return (
    <Page
      title="Lenses"
      actions={
        <>
          {data?.installed && (
            <button className="button" disabled={busy} onClick={() => void take(api.importInstalledLenses)}>
              Import this machine’s database
            </button>
          )}
          <button className="button" disabled={busy} onClick={() => files.current?.click()}>
            {busy ? 'Importing' : 'Import files'}
          </button>
          <HiddenFiles
            ref={files}
            label="Files of a lens database"
            accept=".xml,text/xml"
            multiple
            onFiles={(chosen) => void takeFiles(chosen)}
          />
        </>
      }
    >
      {problem && <ErrorNotice>{problem}</ErrorNotice>}
      {imported && (
        <div className="mb-4 border border-line p-3" role="status">
          {imported.lenses} {imported.lenses === 1 ? 'profile' : 'profiles'} and {imported.cameras}{' '}
          {imported.cameras === 1 ? 'camera' : 'cameras'} imported.
          {imported.leftOut > 0 && ` ${imported.leftOut} measurements by unknown formulas were left out.`}
          {imported.problems.map((p) => (
            <p key={p} className="text-safe">
              {p}
            </p>
          ))}
        </div>
      )}
      <NewFramesLens />
      <Awaited query={query} label="Loading the lenses" />
      {data && (
        <div className="grid grid-cols-[minmax(0,5fr)_minmax(0,6fr)] gap-8">
          <div>
            <input
              className="field"
              type="search"
              aria-label="Search lenses"
              placeholder="Maker, name or focal length"
              value={words}
              onChange={(e) => setWords(e.target.value)}
            />
            <p className="my-2 text-[12px] text-quiet">
              {data.count === data.all ? `${data.all} profiles` : `${data.count} of ${data.all} profiles`}
            </p>
            {data.count === 0 && (
              <p className="text-quiet">No lens of that name is known. More can be imported as XML.</p>
            )}
            <ul aria-label="Lenses">
              {data.lenses.map((lens) => (
                <LensRow
                  key={lens.id}
                  lens={lens}
                  chosen={lens.id === chosen}
                  onChoose={() => setSearch({ lens: lens.id }, { replace: true })}
                  onProblem={setProblem}
                />
              ))}
            </ul>
            {data.count > data.lenses.length && (
              <p className="py-2 text-quiet">
                {data.count - data.lenses.length} more; a longer search shows them.
              </p>
            )}
          </div>
          <div>
            {chosen ? (
              <LensDetails id={chosen} />
            ) : (
              <p className="text-quiet">Choose a lens to see its profile.</p>
            )}
          </div>
        </div>
      )}
    </Page>
  )
}

/** Whether new frames begin with their lens corrected. */
function NewFramesLens() {
  const { data } = useNewFrames()
  const [problem, setProblem] = useState<string>()
  if (!data) return null
  return (
    <div className="mb-6 max-w-md">
      <Toggle
        label="Correct the lens of new frames by its data"
        checked={data.lens === 'automatic'}
        onChange={(on) =>
          void api.setNewFrames({ ...data, lens: on ? 'automatic' : 'off' }).then(
            (saved) => {
              setProblem(undefined)
              queryClient.setQueryData(['new-frames'], saved)
            },
            (error: unknown) => setProblem(sentence(error)),
          )
        }
      />
      <p className="text-[12px] text-quiet">Frames that are there already stay as they are.</p>
      {problem && <ErrorNotice>{problem}</ErrorNotice>}
    </div>
  )
}

function LensRow(props: {
  lens: LensSummary
  chosen: boolean
  onChoose(): void
  onProblem(problem: string | undefined): void
}) {
  const { lens, chosen, onChoose, onProblem } = props
  const remove = async () => {
    try {
      await api.removeLens(lens.id)
      onProblem(undefined)
      await queryClient.invalidateQueries({ queryKey: ['lenses'] })
    } catch (error) {
      onProblem(sentence(error))
    }
  }
  return (
    <li
      className={`flex items-center border-b border-line ${chosen ? 'outline-1 -outline-offset-1 outline-safe' : ''}`}
    >
      <button
        className="min-w-0 flex-1 px-2 py-2 text-left hover:bg-raised"
        aria-pressed={chosen}
        onClick={onChoose}
      >
        <span className="block truncate text-bright" title={lens.model}>
          {lens.model}
        </span>
        <span className="block truncate text-[12px] text-quiet">
          {[
            lens.maker,
            focalsWord(lens.focalFrom, lens.focalTo),
            `factor ${lens.crop.toFixed(2)}`,
            ORIGINS[lens.origin],
          ]
            .filter(Boolean)
            .join(', ')}
        </span>
      </button>
      {lens.origin !== 'shipped' && (
        <button
          className="icon-button"
          aria-label={`Remove ${lens.model}`}
          title="Remove"
          onClick={() => void remove()}
        >
          <Trash2 className="h-4 w-4" aria-hidden />
        </button>
      )}
    </li>
  )
}

function LensDetails({ id }: { id: string }) {
  const query = useLens(id)
  const profile = query.data?.profile
  return (
    <>
      <Awaited query={query} label="Loading the lens" />
      {profile && (
        <section aria-label="Lens profile">
          <h2 className="text-base text-bright">{profile.model}</h2>
          <p className="mb-2 text-quiet">
            {profile.maker}
            {profile.mounts.length > 0 && `, ${profile.mounts.join(', ')}`}, measured with factor{' '}
            {profile.crop.toFixed(2)}
            {profile.projection !== 'rectilinear' && `, ${profile.projection} projection`}
          </p>
          <LensCurves key={id} profile={profile} />
        </section>
      )}
    </>
  )
}
