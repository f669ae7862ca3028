<script setup lang="ts" generic="T extends Row">
/** Supplies or ESCs: a line each, opened to change it; those that were retired come last. */
import { computed, ref } from 'vue'
import { sentenceOf } from '@/api/client'
import { useWrite, type Thing } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import DriveForm from './DriveForm.vue'
import type { Field, Row, Typed } from './facts'

const props = defineProps<{
  rows: readonly T[]
  thing: Thing
  fields: readonly Field[]
  add: (typed: Typed) => Promise<{ version: number }>
  change: (row: T, body: Record<string, unknown>) => Promise<{ version: number }>
  bodyOf: (typed: Typed) => Record<string, unknown>
  newLabel: string
}>()
const { mayWrite } = useSession()
const adding = ref(false)
const writing = useWrite(props.thing, (work: () => Promise<{ version: number }>) => work())
const ordered = computed(() => [
  ...props.rows.filter((row) => !row.retired),
  ...props.rows.filter((row) => row.retired),
])
async function addOne(typed: Typed) {
  return (await writing.sendOrThrow(() => props.add(typed))).version
}
async function changeOne(row: T, typed: Typed, version: number | null) {
  const body = { ...props.bodyOf(typed), version }
  return (await writing.sendOrThrow(() => props.change(row, body))).version
}
const retiring = useWrite(props.thing, (work: () => Promise<{ version: number }>) => work())
const retire = (row: T) =>
  retiring.send(() => props.change(row, { retired: !row.retired, version: row.version }))
</script>

<template>
  <el-table
    :data="ordered"
    row-key="id"
    class="drives"
    :row-class-name="({ row }: { row: T }) => (row.retired ? 'retired' : '')"
    empty-text="None yet."
  >
    <el-table-column v-if="mayWrite" type="expand" width="34">
      <template #default="{ row }">
        <div class="change">
          <DriveForm
            :what="thing"
            :fields="fields"
            :row="row as T"
            :write="(typed, version) => changeOne(row as T, typed, version)"
          >
            <el-button :loading="retiring.busy.value" @click="retire(row as T)">{{
              row.retired ? 'Put back into use' : 'Retire'
            }}</el-button>
          </DriveForm>
        </div>
      </template>
    </el-table-column>
    <slot />
  </el-table>
  <p v-if="retiring.problem.value" class="problem" role="alert">
    {{ sentenceOf(retiring.problem.value) }}
  </p>
  <template v-if="mayWrite">
    <el-button class="more" :aria-expanded="adding" @click="adding = !adding">{{
      newLabel
    }}</el-button>
    <DriveForm
      v-if="adding"
      :what="thing"
      :fields="fields"
      :write="(typed) => addOne(typed)"
      @done="adding = false"
    />
  </template>
</template>

<style scoped>
.problem {
  color: var(--stop);
}
.change {
  padding: 4px 16px 12px;
}
.more {
  margin-top: 10px;
}
.drives :deep(.retired) {
  color: var(--ink-soft);
}
</style>
