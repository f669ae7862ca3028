<script setup lang="ts">
/** The session ended in mid-work: the password, in place; nothing that was typed is lost. */
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { sessionIsOver, whoWorks, works } from '@/api/again'
import { api, dataOf, sentenceOf } from '@/api/client'

const client = useQueryClient()
const password = ref('')
const problem = ref('')
const busy = ref(false)
const field = ref<{ focus: () => void }>()

async function goOn() {
  const username = whoWorks.value?.username ?? ''
  problem.value = ''
  busy.value = true
  try {
    // The cookie that a write needs may have gone with the session.
    await api.GET('/api/v1/session/')
    const body = { username, password: password.value }
    const session = dataOf(await api.POST('/api/v1/session/', { body }))
    client.setQueryData(['session'], session)
    works(session.user)
  } catch (failure) {
    problem.value = sentenceOf(failure)
  } finally {
    password.value = ''
    busy.value = false
  }
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
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <div class="acts">
        <el-button type="primary" native-type="submit" :loading="busy" :disabled="!password"
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
.problem {
  margin: 8px 0 0;
  color: var(--stop);
}
</style>
