<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { nextTick, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useLogin } from '@/app/useLogin'
import { useSession } from '@/app/useSession'

const { query } = useSession()
const client = useQueryClient()
const route = useRoute()
const router = useRouter()
const username = ref('')
const { password, code, asksCode, problem, busy, logIn } = useLogin()
const codeField = ref<{ focus: () => void } | null>(null)

async function enter() {
  const session = await logIn(username.value)
  if (!session) {
    await nextTick()
    if (asksCode.value) codeField.value?.focus()
    return
  }
  client.setQueryData(['session'], session)
  const next = typeof route.query.next === 'string' ? route.query.next : '/'
  await router.replace(next.startsWith('/') && !next.startsWith('//') ? next : '/')
}
</script>

<template>
  <main class="login">
    <svg class="shaft" viewBox="0 0 80 480" aria-hidden="true">
      <line x1="40" y1="0" x2="40" y2="480" />
      <circle v-for="n in 9" :key="n" cx="40" :cy="n * 48" r="11" :class="{ on: n < 5 }" />
    </svg>
    <el-form class="sheet" @submit.prevent="enter">
      <h1>Taut Spindle</h1>
      <p class="soft">Bench-test a motor, and say what it is worth.</p>
      <label for="username">Name</label>
      <el-input id="username" v-model="username" autocomplete="username" autofocus />
      <label for="password">Password</label>
      <el-input
        id="password"
        v-model="password"
        type="password"
        autocomplete="current-password"
        show-password
      />
      <template v-if="asksCode">
        <label for="code">Six digits of your telephone, or a code on paper</label>
        <el-input
          id="code"
          ref="codeField"
          v-model="code"
          autocomplete="one-time-code"
          spellcheck="false"
        />
      </template>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <el-button
        type="primary"
        native-type="submit"
        :loading="busy"
        :disabled="!username || !password || (asksCode && !code)"
        >Log in</el-button
      >
      <p v-if="query.data.value?.demo" class="small soft">
        This is the demo bench. The start command printed the logins in its terminal.
      </p>
    </el-form>
  </main>
</template>

<style scoped>
.login {
  min-height: 100%;
  display: flex;
  justify-content: center;
  align-items: center;
  gap: 40px;
}
.shaft {
  height: 420px;
}
.shaft line {
  stroke: var(--ink-soft);
  stroke-width: 4;
}
.shaft circle {
  fill: var(--paper);
  stroke: var(--ink-soft);
  stroke-width: 4;
}
.shaft circle.on {
  stroke: var(--copper);
}
form {
  width: 400px;
  padding: 28px;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
label {
  margin-top: 6px;
}
.problem {
  color: var(--stop);
  margin: 4px 0 0;
}
.el-button {
  margin-top: 12px;
}
</style>
