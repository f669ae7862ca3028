/** Who is logged in and what the role allows. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { sessionIsOver, whoWorks } from '@/api/again'
import { sessionQuery } from '@/api/queries'

const ORDER = ['reader', 'reviewer', 'editor', 'administrator']

export function roleIncludes(role: string | undefined, needed: string): boolean {
  return role !== undefined && ORDER.indexOf(role) >= ORDER.indexOf(needed)
}

export function useSession() {
  const query = useQuery(sessionQuery())
  // While the password is asked for again, the page stays that of who worked on it.
  const user = computed(
    () => query.data.value?.user ?? (sessionIsOver.value ? whoWorks.value : null),
  )
  return {
    query,
    user,
    mayWrite: computed(() => roleIncludes(user.value?.role, 'reviewer')),
    mayPublish: computed(() => roleIncludes(user.value?.role, 'editor')),
    mayAdmin: computed(() => roleIncludes(user.value?.role, 'administrator')),
  }
}
