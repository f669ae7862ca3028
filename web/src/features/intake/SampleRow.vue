<script setup lang="ts">
/** One sample: its mark, direction, parcel and note, kept when a field is left. */
import { useQueryClient } from '@tanstack/vue-query'
import { api, dataOf, type Schemas, sentenceOf } from '@/api/client'
import { refreshRecord } from '@/api/queries'
import { useSession } from '@/app/useSession'
import MergeView from '@/merging/MergeView.vue'
import { useFactForm } from '@/merging/useFactForm'
import { choices, wordOf } from '@/words/words'

const props = defineProps<{
  sample: Schemas['Sample']
  parcels: Schemas['ParcelOnFile'][]
}>()
const { mayWrite } = useSession()
const client = useQueryClient()

const { form, base, dirty, problem, conflict, save, drop } = useFactForm({
  key: () => `sample-${props.sample.id}`,
  stored: () => ({
    version: props.sample.version ?? 1,
    values: {
      mark: props.sample.mark,
      turning: props.sample.turning ?? 'unknown',
      parcel: props.sample.parcel ?? null,
      note: props.sample.note ?? '',
    },
  }),
  write: async (values, version) => {
    const changed = dataOf(
      await api.PATCH('/api/v1/samples/{id}/', {
        params: { path: { id: props.sample.id } },
        body: { ...values, version } as Schemas['PatchedSampleRequest'],
      }),
    )
    await refreshRecord(client)
    return changed.version ?? version
  },
})
function keep() {
  if (dirty.value) void save()
}
function name(row: Schemas['ParcelOnFile'], at: number) {
  return `${at + 1}: ${wordOf('obtained', row.parcel.obtained ?? 'unknown')}`
}
</script>

<template>
  <tr>
    <td>
      <input
        v-model="form.mark"
        class="mark"
        :disabled="!mayWrite"
        aria-label="Mark"
        @change="keep"
      />
    </td>
    <td>
      <select
        v-model="form.turning"
        :disabled="!mayWrite"
        aria-label="Turning direction"
        @change="keep"
      >
        <option v-for="one in choices('turning')" :key="one.key" :value="one.key">
          {{ one.label }}
        </option>
      </select>
    </td>
    <td>
      <select v-model="form.parcel" :disabled="!mayWrite" aria-label="Parcel" @change="keep">
        <option :value="null">none</option>
        <option v-for="(row, at) in parcels" :key="row.parcel.id" :value="row.parcel.id">
          {{ name(row, at) }}
        </option>
      </select>
    </td>
    <td>
      <input
        v-model="form.note"
        class="long"
        :disabled="!mayWrite"
        aria-label="Note"
        @change="keep"
      />
      <span v-if="problem" class="problem" role="alert">{{ sentenceOf(problem) }}</span>
    </td>
    <td><RouterLink :to="`/teardown/${sample.id}`">Take apart</RouterLink></td>
  </tr>
  <tr v-if="conflict">
    <td colspan="5">
      <MergeView
        :base="base"
        :mine="form"
        :current="conflict"
        @settle="(values, version) => save(values as typeof form, version)"
        @drop="drop"
      />
    </td>
  </tr>
</template>

<style scoped>
input {
  height: 32px;
  border: 1px solid var(--el-border-color);
  border-radius: 3px;
  background: var(--el-fill-color-blank);
  padding: 0 8px;
}
.mark {
  width: 104px;
}
.long {
  width: 100%;
}
.problem {
  color: var(--stop);
  font-size: 13px;
}
</style>
