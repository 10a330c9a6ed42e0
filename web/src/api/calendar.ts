import { queryOptions } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'

import { answer, client, type Shapes } from './client'

export type DayList = Shapes['DayListOut']

export const calendarsQuery = queryOptions({
  queryKey: ['calendars'],
  queryFn: () => answer(client.GET('/api/v1/calendars')),
})

export const dayListQuery = (day: MaybeRefOrGetter<string>) =>
  queryOptions({
    queryKey: ['day-list', day],
    queryFn: () => {
      const query = toValue(day) ? { day: toValue(day) } : {}
      return answer(client.GET('/api/v1/day-list', { params: { query } }))
    },
  })

export const calendarApi = {
  make: (trial: string | null) => answer(client.POST('/api/v1/calendars', { body: { trial } })),
  remove: (id: string) => answer(client.DELETE('/api/v1/calendars/{id}', { params: { path: { id } } })),
}
