<script setup lang="ts">
/** One's own second factor: set up with a telephone, codes for paper, another telephone, none. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { secondFactorQuery } from '@/api/peopleQueries'
import { useWrite } from '@/api/useWrite'
import PageState from '@/app/PageState.vue'
import PasswordField from '@/forms/PasswordField.vue'
import TextField from '@/forms/TextField.vue'
import CodePicture from './CodePicture.vue'

const { data: own, isPending, error, refetch } = useQuery(secondFactorQuery())
const password = ref('')
const code = ref('')
const secret = ref<Schemas['Secret'] | null>(null)
/** Codes for paper: told once, gone when the page is left. */
const codes = ref<string[]>([])

const begin = useWrite('login', async () =>
  dataOf(await api.POST('/api/v1/session/second-factor/', { body: { password: password.value } })),
)
const confirm = useWrite('login', async () =>
  dataOf(
    await api.POST('/api/v1/session/second-factor/confirmed/', { body: { code: code.value } }),
  ),
)
const anew = useWrite('login', async () =>
  dataOf(
    await api.POST('/api/v1/session/second-factor/codes/', { body: { password: password.value } }),
  ),
)
const end = useWrite('login', async () =>
  dataOf(
    await api.POST('/api/v1/session/second-factor/ended/', { body: { password: password.value } }),
  ),
)
const writes = [begin, confirm, anew, end]
const problem = computed(() => writes.map((one) => one.problem.value).find(Boolean))
const elsewhere = computed(
  () =>
    problem.value &&
    !fieldMessage(problem.value, 'password') &&
    !fieldMessage(problem.value, 'code'),
)
function afresh() {
  for (const one of writes) one.clear()
  codes.value = []
}

async function start() {
  afresh()
  const found = await begin.send()
  if (!found) return
  secret.value = found
  password.value = ''
}
async function finish() {
  afresh()
  const found = await confirm.send()
  code.value = ''
  if (!found) return
  secret.value = null
  codes.value = found.codes
}
async function others() {
  afresh()
  const found = await anew.send()
  if (!found) return
  password.value = ''
  codes.value = found.codes
}
async function leave() {
  afresh()
  await end.send()
  if (!end.problem.value) password.value = ''
}
</script>

<template>
  <section class="sheet" aria-labelledby="second">
    <h2 id="second">Second factor</h2>
    <PageState :loading="isPending" :error="error" :retry="refetch" />
    <template v-if="own">
      <p v-if="own.on">
        At the login you are asked for six digits of your telephone, or one of
        <strong class="figure">{{ own.codes_left }}</strong> codes on paper that are left.
        <template v-if="own.needed">The rule of this installation asks it of your role.</template>
      </p>
      <p v-else-if="own.needed" class="needed" role="status">
        The rule of this installation asks a second factor of your role. Set it up to go on.
      </p>
      <p v-else>
        None. With one, somebody who has your password still does not get in: six digits that your
        telephone shows are asked too.
      </p>
      <div v-if="codes.length" class="codes" role="status">
        <p>
          Codes for paper, shown this once; each lets you in once, without the telephone. Keep them
          where the telephone is not.
        </p>
        <ul class="figure">
          <li v-for="one in codes" :key="one">{{ one }}</li>
        </ul>
      </div>
      <form v-if="secret" class="setting" @submit.prevent="finish">
        <CodePicture :rows="secret.picture" />
        <div class="fields">
          <p>
            Read the picture with any program for one-time codes, or type this into it:
            <code>{{ secret.secret }}</code>
          </p>
          <TextField
            id="second-code"
            v-model="code"
            label="The six digits that it shows now"
            :problem="fieldMessage(problem, 'code')"
          />
          <el-button
            type="primary"
            native-type="submit"
            :loading="confirm.busy.value"
            :disabled="!code"
            >Confirm</el-button
          >
        </div>
      </form>
      <form v-else class="fields" @submit.prevent="own.on ? others() : start()">
        <PasswordField
          v-model="password"
          label="Your password"
          autocomplete="current-password"
          :problem="fieldMessage(problem, 'password')"
        />
        <span class="acts">
          <el-button
            v-if="!own.on"
            native-type="submit"
            :loading="begin.busy.value"
            :disabled="!password"
            >Set one up</el-button
          >
          <template v-else>
            <el-button native-type="submit" :loading="anew.busy.value" :disabled="!password"
              >Other codes for paper</el-button
            >
            <el-button
              v-if="!own.needed"
              :loading="end.busy.value"
              :disabled="!password"
              @click="leave"
              >End it</el-button
            >
          </template>
        </span>
      </form>
      <p v-if="elsewhere" class="fault" role="alert">{{ sentenceOf(problem) }}</p>
    </template>
  </section>
</template>

<style scoped>
.sheet {
  margin-top: 12px;
}
.setting {
  display: flex;
  flex-wrap: wrap;
  gap: 20px;
  align-items: flex-start;
}
.fields {
  display: grid;
  gap: 8px;
  justify-items: start;
  max-width: 420px;
}
.codes ul {
  columns: 2;
  max-width: 320px;
  padding-left: 18px;
}
.codes {
  border: 1px solid var(--line);
  padding: 8px 12px;
  margin-bottom: 10px;
  max-width: 520px;
}
code {
  overflow-wrap: anywhere;
}
.needed {
  color: var(--caution);
  font-weight: 600;
}
.fault {
  color: var(--stop);
}
</style>
