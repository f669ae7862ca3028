<script setup lang="ts">
/** One's own password, and where one is logged in. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { loginsQuery } from '@/api/peopleQueries'
import { useWrite } from '@/api/useWrite'
import PageState from '@/app/PageState.vue'
import { dateTime } from '@/figures/format'
import PasswordField from '@/forms/PasswordField.vue'

defineProps<{ user: Schemas['User'] }>()
const { data: logins, isPending, error, refetch } = useQuery(loginsQuery())
const current = ref('')
const password = ref('')
const again = ref('')
const said = ref('')
const apart = computed(() =>
  again.value && again.value !== password.value ? 'The two are not the same.' : '',
)
const changing = useWrite('login', async () =>
  dataOf(
    await api.POST('/api/v1/session/password/', {
      body: { current: current.value, password: password.value },
    }),
  ),
)
async function change() {
  said.value = ''
  await changing.send()
  if (changing.problem.value) return
  current.value = password.value = again.value = ''
  said.value = 'Changed. Wherever else you were logged in, you are out.'
}
const ending = useWrite('login', async (handle: string) =>
  dataOf(await api.DELETE('/api/v1/session/logins/{handle}/', { params: { path: { handle } } })),
)
</script>

<template>
  <section class="sheet" aria-labelledby="own">
    <h2 id="own">You, {{ user.shown_name }}</h2>
    <div class="columns">
      <form class="password" @submit.prevent="change">
        <PasswordField
          v-model="current"
          label="Your password so far"
          autocomplete="current-password"
          :problem="fieldMessage(changing.problem.value, 'current')"
        />
        <PasswordField
          v-model="password"
          label="A new one, ten signs or more"
          autocomplete="new-password"
          :problem="fieldMessage(changing.problem.value, 'password')"
        />
        <PasswordField
          v-model="again"
          label="The new one again"
          autocomplete="new-password"
          :problem="apart"
        />
        <el-button
          native-type="submit"
          :loading="changing.busy.value"
          :disabled="!current || !password || password !== again"
          >Change it</el-button
        >
        <p v-if="said" role="status" class="small">{{ said }}</p>
      </form>
      <div>
        <h3>Where you are logged in</h3>
        <PageState :loading="isPending" :error="error" :retry="refetch" />
        <table v-if="logins?.length" class="grid">
          <thead>
            <tr>
              <th>Browser</th>
              <th>From</th>
              <th>Last there</th>
              <th><span class="visually-hidden">End it</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in logins" :key="one.handle">
              <td class="browser" :title="one.browser">{{ one.browser || 'not said' }}</td>
              <td>{{ one.address || 'not noted' }}</td>
              <td>{{ one.seen ? dateTime(one.seen) : 'not noted' }}</td>
              <td>
                <span v-if="one.own" class="soft">here</span>
                <el-button
                  v-else
                  size="small"
                  :loading="ending.busy.value"
                  @click="ending.send(one.handle)"
                  >Log out there</el-button
                >
              </td>
            </tr>
          </tbody>
        </table>
        <p v-if="ending.problem.value" class="fault" role="alert">
          {{ sentenceOf(ending.problem.value) }}
        </p>
        <p class="soft small">
          After twelve hours in which you did nothing a login ends by itself; never while something
          is armed or turns.
        </p>
      </div>
    </div>
  </section>
</template>

<style scoped>
.sheet {
  margin-top: 12px;
}
.columns {
  display: grid;
  grid-template-columns: 260px minmax(0, 1fr);
  gap: 30px;
}
.password {
  display: grid;
  gap: 8px;
  align-content: start;
  justify-items: start;
}
h3 {
  margin: 0 0 6px;
  font-size: 14px;
}
.browser {
  max-width: 260px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.fault {
  color: var(--stop);
}
@media (max-width: 900px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
