import { useQuery } from '@tanstack/react-query'
import { api } from '../api/client'
import { queryClient } from '../api/queries'

const KEY = ['profiles']

export const useProfiles = () => useQuery({ queryKey: KEY, queryFn: api.profiles })
export const forgetProfiles = () => queryClient.invalidateQueries({ queryKey: KEY })
