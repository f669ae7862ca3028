<script setup lang="ts">
/** The session ended in mid-work: the password, in place; nothing that was typed is lost. */
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { sessionIsOver, whoWorks, works } from '@/api/again'
import { api } from '@/api/client'
import { useLogin } from './useLogin'

const client = useQueryClient()
const { password, code, asksCode, problem, busy, logIn, forget } = useLogin()
const field = ref<{ focus: () => void }>()

async function goOn() {
  // The cookie that a write needs may have gone with the session.
  await api.GET('/api/v1/session/').catch(() => undefined)
  const session = await logIn(whoWorks.value?.username ?? '')
  if (!session) return
  forget()
  client.setQueryData(['session'], session)
  works(session.user)
}

/** What waits to be sent is not sent: it belongs to who typed it. */
function somebodyElse() {
  works(null)
  client.setQueryData(['session'], (old: object | undefined) => old && { ...old, user: null })
}
</script>

<template>
  <el-dialog
    :model-value="sessionIsOver"
    title="Your session has ended"
    width="420"
    modal-class="below-strip"
    :show-close="false"
    :close-on-click-modal="false"
    :close-on-press-escape="false"
    @opened="field?.focus()"
  >
    <el-form @submit.prevent="goOn">
      <p>
        Nothing you typed is lost. Give the password of
        <strong>{{ whoWorks?.shown_name }}</strong> to go on where you were.
      </p>
      <el-input
        ref="field"
        v-model="password"
        type="password"
        autocomplete="current-password"
        :aria-label="`Password of ${whoWorks?.shown_name}`"
        show-password
      />
      <el-input
        v-if="asksCode"
        v-model="code"
        class="code"
        autocomplete="one-time-code"
        aria-label="Six digits of your telephone, or a code on paper"
        placeholder="six digits of your telephone, or a code on paper"
      />
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <div class="acts">
        <el-button
          type="primary"
          native-type="submit"
          :loading="busy"
          :disabled="!password || (asksCode && !code)"
          >Go on</el-button
        >
        <el-button text @click="somebodyElse">Log in as somebody else</el-button>
      </div>
    </el-form>
  </el-dialog>
</template>

<style>
/* The strip with its stop control stays in sight and in reach. */
.below-strip {
  top: 46px;
}
</style>

<style scoped>
.acts {
  display: flex;
  gap: 8px;
  margin-top: 14px;
}
.code {
  margin-top: 8px;
}
.problem {
  margin: 8px 0 0;
  color: var(--stop);
}
</style>
