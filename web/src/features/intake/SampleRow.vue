<script setup lang="ts">
/** One sample: its mark, direction, parcel and note, kept when a field is left. */
import { api, dataOf, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import MergeView from '@/merging/MergeView.vue'
import { useFactForm } from '@/merging/useFactForm'
import { choices, wordOf } from '@/words/words'

const props = defineProps<{
  sample: Schemas['Sample']
  parcels: Schemas['ParcelOnFile'][]
}>()
const { mayWrite } = useSession()

const change = useWrite('sample', async (body: Schemas['PatchedSampleRequest']) =>
  dataOf(
    await api.PATCH('/api/v1/samples/{id}/', { params: { path: { id: props.sample.id } }, body }),
  ),
)
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
    const body = { ...values, version } as Schemas['PatchedSampleRequest']
    const changed = await change.sendOrThrow(body)
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
      <el-input
        v-model="form.mark"
        class="mark"
        :disabled="!mayWrite"
        aria-label="Mark"
        @change="keep"
      />
    </td>
    <td>
      <el-select
        v-model="form.turning"
        class="turning"
        :disabled="!mayWrite"
        aria-label="Turning direction"
        @change="keep"
      >
        <el-option
          v-for="one in choices('turning')"
          :key="one.key"
          :value="one.key"
          :label="one.label"
        />
      </el-select>
    </td>
    <td>
      <el-select
        :model-value="form.parcel ?? 0"
        class="parcel"
        :disabled="!mayWrite"
        aria-label="Parcel"
        @update:model-value="form.parcel = $event || null"
        @change="keep"
      >
        <el-option :value="0" label="none" />
        <el-option
          v-for="(row, at) in parcels"
          :key="row.parcel.id"
          :value="row.parcel.id"
          :label="name(row, at)"
        />
      </el-select>
    </td>
    <td>
      <el-input v-model="form.note" :disabled="!mayWrite" aria-label="Note" @change="keep" />
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
.mark {
  width: 104px;
}
.turning,
.parcel {
  width: 190px;
}
.problem {
  color: var(--stop);
  font-size: 13px;
}
</style>
