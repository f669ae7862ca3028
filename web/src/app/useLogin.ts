/** A login in one step, or in two where a second factor is asked for. Nothing of it is kept. */
import { ref } from 'vue'
import { ApiError, api, dataOf, type Schemas, sentenceOf } from '@/api/client'

const KEEPS_PASSWORD = ['second_factor', 'wrong_code', 'too_soon', 'offline']

export function useLogin() {
  const password = ref('')
  const code = ref('')
  const asksCode = ref(false)
  const problem = ref('')
  const busy = ref(false)

  /** The session, or undefined where it was refused or a code is asked for. */
  async function logIn(username: string): Promise<Schemas['Session'] | undefined> {
    problem.value = ''
    busy.value = true
    try {
      const body = { username, password: password.value, code: code.value }
      return dataOf(await api.POST('/api/v1/session/', { body }))
    } catch (error) {
      const why = error instanceof ApiError ? error.body.code : ''
      if (!KEEPS_PASSWORD.includes(why)) {
        password.value = ''
        asksCode.value = false
      }
      code.value = ''
      if (why === 'second_factor') asksCode.value = true
      else problem.value = sentenceOf(error)
      return undefined
    } finally {
      busy.value = false
    }
  }
  function forget() {
    password.value = code.value = problem.value = ''
    asksCode.value = false
  }
  return { password, code, asksCode, problem, busy, logIn, forget }
}
