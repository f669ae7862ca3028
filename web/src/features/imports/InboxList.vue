<script setup lang="ts">
/** Files that were dropped into the inbox folder and wait. */
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, type Schemas, sentenceOf } from '@/api/client'
import { inboxQuery } from '@/api/queries'
import { useWrite } from '@/api/useWrite'
import { dateTime } from '@/figures/format'

const emit = defineEmits<{ open: [file: File, inbox: number | null] }>()
const { data } = useQuery(inboxQuery())
const opening = ref(0)
const problem = ref<unknown>(null)
async function look(row: Schemas['InboxFile']) {
  opening.value = row.id
  problem.value = null
  // A large one is read from where it lies.
  if (row.large) {
    emit('open', new File([], row.name), row.id)
    opening.value = 0
    return
  }
  try {
    const answer = await api.GET('/api/v1/imports/inbox/{id}/file/', {
      params: { path: { id: row.id } },
      parseAs: 'blob',
    })
    emit('open', new File([answer.data as unknown as Blob], row.name), null)
  } catch (error) {
    problem.value = error
  } finally {
    opening.value = 0
  }
}
const aside = useWrite('run', (row: Schemas['InboxFile']) =>
  api.PATCH('/api/v1/imports/inbox/{id}/', {
    params: { path: { id: row.id } },
    body: { put_aside: true },
  }),
)
function stands(row: Schemas['InboxFile']): string {
  if (row.problem) return row.problem
  const runs = `${row.runs} ${row.runs === 1 ? 'run' : 'runs'}`
  if (row.asks)
    return `${runs}; ${row.asks} ${row.asks === 1 ? 'column wants' : 'columns want'} a look`
  return row.known_as ? `${runs}, read as “${row.known_as}”` : runs
}
</script>

<template>
  <section v-if="data?.results.length" class="sheet" aria-label="Inbox">
    <h2>
      In the inbox <span class="soft">({{ data.count }})</span>
    </h2>
    <table class="grid">
      <tbody>
        <tr v-for="row in data.results" :key="row.id">
          <td class="name" :title="row.name">{{ row.name }}</td>
          <td class="soft small">{{ dateTime(row.noticed_at) }}</td>
          <td>{{ stands(row) }}</td>
          <td class="acts">
            <el-button size="small" :loading="opening === row.id" @click="look(row)"
              >Look at it<span class="visually-hidden"> {{ row.name }}</span></el-button
            >
            <el-button size="small" link @click="aside.send(row)"
              >Put aside<span class="visually-hidden"> {{ row.name }}</span></el-button
            >
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="problem ?? aside.problem.value" class="problem" role="alert">
      {{ sentenceOf(problem ?? aside.problem.value) }}
    </p>
  </section>
</template>

<style scoped>
.sheet {
  margin-top: 12px;
}
.name {
  max-width: 260px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  font-weight: 700;
}
.acts {
  white-space: nowrap;
  text-align: right;
}
.problem {
  color: var(--stop);
}
</style>
