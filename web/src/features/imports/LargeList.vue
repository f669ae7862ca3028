<script setup lang="ts">
/** Large files that came, or began to come, and are no run yet. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, type Schemas, sentenceOf } from '@/api/client'
import { largeFilesQuery } from '@/api/queries'
import { useWrite } from '@/api/useWrite'
import { dateTime } from '@/figures/format'
import { largeStands, megabytes } from './large'

const { data } = useQuery(largeFilesQuery())
const rows = computed(() => data.value?.results ?? [])
const ofRow = ({ id }: Schemas['LargeFile']) => ({ params: { path: { id } } })
const again = useWrite('run', (row: Schemas['LargeFile']) =>
  api.POST('/api/v1/imports/large/{id}/store/', ofRow(row)),
)
const drop = useWrite('run', (row: Schemas['LargeFile']) =>
  api.DELETE('/api/v1/imports/large/{id}/', ofRow(row)),
)
const problem = computed(() => again.problem.value ?? drop.problem.value)
</script>

<template>
  <section v-if="rows.length" class="sheet" aria-label="Large files">
    <h2>Large files that are no run yet</h2>
    <table class="grid">
      <tbody>
        <tr v-for="row in rows" :key="row.id">
          <td class="name" :title="row.name">{{ row.name }}</td>
          <td class="num">{{ megabytes(row.size) }}</td>
          <td class="soft small">{{ row.asked_by_name }}, {{ dateTime(row.begun_at) }}</td>
          <td class="stands">{{ largeStands(row) }}</td>
          <td class="acts">
            <template v-if="row.state !== 'storing'">
              <el-button v-if="row.here >= row.size" size="small" @click="again.send(row)"
                >Store it<span class="visually-hidden"> {{ row.name }}</span></el-button
              >
              <el-popconfirm
                title="Drop what came of it? The file itself stays where it is."
                confirm-button-text="Drop it"
                cancel-button-text="Keep it"
                width="280"
                @confirm="drop.send(row)"
              >
                <template #reference>
                  <el-button size="small" link
                    >Drop<span class="visually-hidden"> {{ row.name }}</span></el-button
                  >
                </template>
              </el-popconfirm>
            </template>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="problem" class="problem" role="alert">{{ sentenceOf(problem) }}</p>
  </section>
</template>

<style scoped>
.sheet {
  margin-top: 12px;
}
.name {
  max-width: 220px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  font-weight: 700;
}
.stands {
  overflow-wrap: anywhere;
}
.acts {
  white-space: nowrap;
  text-align: right;
}
.problem {
  color: var(--stop);
}
</style>
