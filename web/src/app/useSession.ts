/** Who is logged in and what the role allows. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { sessionQuery } from '@/api/queries'

const ORDER = ['reader', 'reviewer', 'editor', 'administrator']

export function roleIncludes(role: string | undefined, needed: string): boolean {
  return role !== undefined && ORDER.indexOf(role) >= ORDER.indexOf(needed)
}

export function useSession() {
  const query = useQuery(sessionQuery())
  const user = computed(() => query.data.value?.user ?? null)
  return {
    query,
    user,
    mayWrite: computed(() => roleIncludes(user.value?.role, 'reviewer')),
    mayPublish: computed(() => roleIncludes(user.value?.role, 'editor')),
  }
}
