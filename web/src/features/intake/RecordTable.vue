<script setup lang="ts" generic="R extends { id: number; struck_reason: string; version: number }">
/** Records that are never deleted: a mistake is struck out with its reason, and can stand again. */
import { useQueryClient } from '@tanstack/vue-query'
import { nextTick, ref } from 'vue'
import { api, sentenceOf } from '@/api/client'
import { refreshRecord } from '@/api/queries'
import { useSession } from '@/app/useSession'

const props = defineProps<{
  head: string[]
  /** Places of the columns that hold numbers. */
  numeric: number[]
  kind: 'weighings' | 'preparations' | 'incidents'
  records: R[]
  empty: string
}>()
const { mayWrite } = useSession()
const client = useQueryClient()
const striking = ref(0)
const reason = ref('')
const problem = ref('')
const field = ref<HTMLInputElement[]>([])

async function begin(id: number) {
  striking.value = id
  reason.value = ''
  await nextTick()
  field.value[0]?.focus()
}

async function strike({ id, version }: R, why: string) {
  problem.value = ''
  const options = { params: { path: { id } }, body: { struck_reason: why, version } }
  try {
    if (props.kind === 'weighings') await api.PATCH('/api/v1/weighings/{id}/', options)
    else if (props.kind === 'preparations') await api.PATCH('/api/v1/preparations/{id}/', options)
    else await api.PATCH('/api/v1/incidents/{id}/', options)
    striking.value = 0
    await refreshRecord(client)
  } catch (failure) {
    problem.value = sentenceOf(failure)
  }
}
</script>

<template>
  <p v-if="!records.length" class="soft">{{ empty }}</p>
  <table v-else class="grid">
    <thead>
      <tr>
        <th v-for="(name, at) in head" :key="name" :class="{ num: numeric.includes(at) }">
          {{ name }}
        </th>
        <th></th>
      </tr>
    </thead>
    <tbody>
      <template v-for="record in records" :key="record.id">
        <tr :class="{ struck: record.struck_reason }">
          <slot name="cells" :record="record" />
          <td class="num">
            <template v-if="mayWrite">
              <button
                v-if="record.struck_reason"
                type="button"
                class="plain"
                @click="strike(record, '')"
              >
                Let it stand
              </button>
              <button v-else type="button" class="plain" @click="begin(record.id)">
                Strike out
              </button>
            </template>
          </td>
        </tr>
        <tr v-if="record.struck_reason || striking === record.id">
          <td :colspan="head.length + 1" class="small">
            <form
              v-if="striking === record.id"
              class="why"
              @submit.prevent="strike(record, reason)"
            >
              <input
                ref="field"
                v-model="reason"
                aria-label="Why it is a mistake"
                placeholder="Why it is a mistake"
                maxlength="200"
                @keydown.esc="striking = 0"
              />
              <el-button size="small" native-type="submit" :disabled="!reason.trim()"
                >Strike out</el-button
              >
            </form>
            <template v-else>Struck out: {{ record.struck_reason }}</template>
          </td>
        </tr>
      </template>
    </tbody>
  </table>
  <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
</template>

<style scoped src="./intake.css"></style>
<style scoped>
.why {
  display: flex;
  gap: 8px;
}
</style>
