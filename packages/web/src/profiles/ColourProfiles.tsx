import type { ColourProfile } from '@dunkelkammer/contract'
import { Trash2 } from 'lucide-react'
import { useState } from 'react'
import { api, sentence } from '../api/client'
import { Awaited } from '../shell/Awaited'
import { ErrorNotice } from '../shell/Notice'
import { LoadProfile } from './LoadProfile'
import { forgetProfiles, useProfiles } from './useProfiles'
import { TableHead } from '../shell/TableHead'

const DEVICE: Readonly<Record<ColourProfile['device'], string>> = {
  display: 'Display',
  printer: 'Printer',
  space: 'Colour space',
}

const COLUMNS = [['Name'], ['Device', 'w-40'], ['Colours', 'w-28']] as const

/** The ICC profiles of the library, for deliveries and for the proof at the bench. */
export function ColourProfiles() {
  const query = useProfiles()
  const [problem, setProblem] = useState<string>()
  const remove = async ({ id }: ColourProfile) => {
    setProblem(undefined)
    try {
      await api.removeProfile(id)
      await forgetProfiles()
    } catch (error) {
      setProblem(sentence(error))
    }
  }
  return (
    <section aria-label="Colour profiles" className="mt-10">
      <div className="mb-3 flex items-center justify-between">
        <h2 className="text-base font-semibold text-bright">Colour profiles</h2>
        <LoadProfile onProblem={setProblem} />
      </div>
      <Awaited query={query} label="Loading the colour profiles" />
      {problem && <ErrorNotice>{problem}</ErrorNotice>}
      {query.data?.length === 0 && (
        <p className="text-quiet">
          None yet. Load the ICC profile of a paper or a display to deliver files for it, or to see at the
          bench how it will show a picture.
        </p>
      )}
      {query.data && query.data.length > 0 && (
        <table className="w-full table-fixed border-collapse text-left">
          <TableHead columns={COLUMNS} />
          <tbody>
            {query.data.map((profile) => (
              <tr key={profile.id} className="border-b border-line">
                <td className="truncate py-2 pr-4 text-bright" title={profile.name}>
                  {profile.name}
                </td>
                <td className="py-2 pr-4">{DEVICE[profile.device]}</td>
                <td className="py-2 pr-4">{profile.colours === 'grey' ? 'Grey' : profile.colours}</td>
                <td className="py-2 text-right">
                  <button
                    className="icon-button"
                    aria-label={`Remove ${profile.name}`}
                    title="Remove"
                    onClick={() => void remove(profile)}
                  >
                    <Trash2 className="h-4 w-4" aria-hidden />
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  )
}
