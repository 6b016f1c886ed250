import { useQuery } from '@tanstack/react-query'
import { api } from '../api/client'
import { queryClient } from '../api/queries'

const KEY = ['deliveries']

export const useDeliveries = () => useQuery({ queryKey: KEY, queryFn: api.deliveries })
export const forgetDeliveries = () => queryClient.invalidateQueries({ queryKey: KEY })
