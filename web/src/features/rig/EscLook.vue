<script setup lang="ts">
/** Electronic speed controllers: what they may carry, and how they are set. */
import { useQuery } from '@tanstack/vue-query'
import { api, dataOf, type Schemas } from '@/api/client'
import { escsQuery } from '@/api/rigQueries'
import PageState from '@/app/PageState.vue'
import Figure from '@/figures/Figure.vue'
import DriveTable from './DriveTable.vue'
import { bodyOf, ESC, type Row, type Typed } from './facts'

const { data, isPending, error, refetch } = useQuery(escsQuery())
const body = (typed: Typed) => bodyOf(ESC, typed)
const add = async (typed: Typed) =>
  dataOf(await api.POST('/api/v1/escs/', { body: body(typed) as Schemas['EscRequest'] })) as {
    version: number
  }
const change = async (row: Row, values: Record<string, unknown>) =>
  dataOf(
    await api.PATCH('/api/v1/escs/{id}/', {
      params: { path: { id: row.id } },
      body: values as Schemas['PatchedEscRequest'],
    }),
  ) as { version: number }
const settings = (row: { settings?: Record<string, string> }) =>
  Object.entries(row.settings ?? {})
    .map(([name, value]) => `${name} ${value}`)
    .join(', ')
</script>

<template>
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <section v-if="data" class="sheet">
    <h2>ESCs</h2>
    <p class="soft small">
      A name is enough. Without a rating no limit can come from it, and the list of limits says so.
    </p>
    <DriveTable
      :rows="data as unknown as Row[]"
      thing="esc"
      :fields="ESC"
      :add="add"
      :change="change"
      :body-of="body"
      new-label="Another ESC"
    >
      <el-table-column label="ESC" min-width="150">
        <template #default="{ row }"
          >{{ row.name }} <span v-if="row.retired" class="tag">retired</span>
          <span v-if="row.note" class="soft small">{{ row.note }}</span></template
        >
      </el-table-column>
      <el-table-column label="Rated" align="right" width="96">
        <template #default="{ row }"
          ><Figure :value="row.rated_a" unit="A" reason="its rating is not known"
        /></template>
      </el-table-column>
      <el-table-column label="Burst" align="right" width="96">
        <template #default="{ row }"
          ><Figure :value="row.burst_a" unit="A" reason="not known"
        /></template>
      </el-table-column>
      <el-table-column label="Mass" align="right" width="96">
        <template #default="{ row }"
          ><Figure :value="row.mass_g" unit="g" reason="not weighed"
        /></template>
      </el-table-column>
      <el-table-column label="BEC" align="right" width="130">
        <template #default="{ row }"
          ><Figure :value="row.bec_v" unit="V" reason="none, or nobody noted it" />
          <template v-if="row.bec_a != null"> <Figure :value="row.bec_a" unit="A" /></template
        ></template>
      </el-table-column>
      <el-table-column label="Throttle to duty" width="130">
        <template #default="{ row }">{{
          row.linear == null ? 'nobody knows' : row.linear ? 'linear' : 'not linear'
        }}</template>
      </el-table-column>
      <el-table-column label="Protocol" prop="protocol" width="120" />
      <el-table-column label="Settings" min-width="180">
        <template #default="{ row }">{{ settings(row) }}</template>
      </el-table-column>
    </DriveTable>
  </section>
</template>

<style scoped src="./rig.css"></style>
