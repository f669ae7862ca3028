<script setup lang="ts">
/** Adapters: what carries a propeller that a motor's own shaft does not. */
import { useQuery } from '@tanstack/vue-query'
import { api, dataOf, type Schemas } from '@/api/client'
import { adaptersQuery } from '@/api/rigQueries'
import PageState from '@/app/PageState.vue'
import { wordOf } from '@/words/words'
import DriveTable from './DriveTable.vue'
import { adapterSizes } from './adapters'
import { ADAPTER, bodyOf, type Row, type Typed } from './facts'

const { data, isPending, error, refetch } = useQuery(adaptersQuery())
const body = (typed: Typed) => bodyOf(ADAPTER, typed)
const add = async (typed: Typed) =>
  dataOf(
    await api.POST('/api/v1/adapters/', { body: body(typed) as Schemas['AdapterRequest'] }),
  ) as { version: number }
const change = async (row: Row, values: Record<string, unknown>) =>
  dataOf(
    await api.PATCH('/api/v1/adapters/{id}/', {
      params: { path: { id: row.id } },
      body: values as Schemas['PatchedAdapterRequest'],
    }),
  ) as { version: number }
</script>

<template>
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <section v-if="data" class="sheet">
    <h2>Adapters</h2>
    <p class="soft small">
      Prop fit (Intake, step Fit) tries each of them with each propeller, beside the rings of the
      box.
    </p>
    <DriveTable
      :rows="data as unknown as Row[]"
      thing="adapter"
      :fields="ADAPTER"
      :add="add"
      :change="change"
      :body-of="body"
      new-label="Another adapter"
    >
      <el-table-column label="Adapter" min-width="180">
        <template #default="{ row }"
          >{{ row.name }} <span v-if="row.retired" class="tag">retired</span>
          <span v-if="row.note" class="soft small">{{ row.note }}</span></template
        >
      </el-table-column>
      <el-table-column label="Is a" min-width="120">
        <template #default="{ row }">{{ wordOf('adapter_kind', row.kind) }}</template>
      </el-table-column>
      <el-table-column label="Measures" min-width="420">
        <template #default="{ row }">{{ adapterSizes(row) }}</template>
      </el-table-column>
    </DriveTable>
    <p class="small care">
      A collet or stud that turns a propeller must be tight and run true: check it after every
      mounting, stand out of the propeller's plane, and follow its maker's torque and speed.
    </p>
  </section>
</template>

<style scoped src="./rig.css"></style>
