import type { Preset } from '@dunkelkammer/core'
import type { PresetEntry, Presets } from '@dunkelkammer/contract'
import { useQuery } from '@tanstack/react-query'
import { api } from '../api/client'
import { queryClient } from '../api/queries'

const KEY = ['presets'] as const
const NONE: readonly PresetEntry[] = []

/** The presets of the library. */
export const usePresets = () => useQuery({ queryKey: KEY, queryFn: api.presets })

/** The presets in groups, those with words in them alone, in the user's order. */
export function groupsOf(
  presets: readonly PresetEntry[] = NONE,
  words = '',
): { group: string; presets: PresetEntry[] }[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean)
  const found = presets.filter(({ name, group, notes }) => {
    const text = `${name} ${group} ${notes}`.toLowerCase()
    return wanted.every((word) => text.includes(word))
  })
  return [...new Set(found.map((p) => p.group))].map((group) => ({
    group,
    presets: found.filter((p) => p.group === group),
  }))
}

/** What a group is called that has no name. */
export const groupName = (group: string): string => group || 'Without a group'

/** Whether a preset may be applied at another strength than 100 %: what is found in the picture is there or not. */
export const scales = ({ scalable, portion }: Pick<Preset, 'scalable' | 'portion'>): boolean =>
  scalable && portion.automatic.length === 0

/** Does something to the presets of the library, and shows what came of it. */
export async function withShelf<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work()
  } finally {
    await queryClient.invalidateQueries({ queryKey: KEY })
  }
}

/** Shows the presets as the server has answered. */
export function showShelf(presets: Presets): void {
  queryClient.setQueryData(KEY, presets)
}
