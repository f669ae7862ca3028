<script setup lang="ts">
/** Bench supplies and packs, and packs joined into one supply. */
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, dataOf, type Schemas } from '@/api/client'
import { suppliesQuery } from '@/api/rigQueries'
import PageState from '@/app/PageState.vue'
import Figure from '@/figures/Figure.vue'
import { wordOf } from '@/words/words'
import { useSession } from '@/app/useSession'
import DriveTable from './DriveTable.vue'
import JoinPacks from './JoinPacks.vue'
import PacksNow from './PacksNow.vue'
import { bodyOf, type Row, SUPPLY, type Typed } from './facts'

const { data, isPending, error, refetch } = useQuery(suppliesQuery())
const { mayWrite } = useSession()
const joining = ref(false)
const body = (typed: Typed) => bodyOf(SUPPLY, typed)
const add = async (typed: Typed) =>
  dataOf(
    await api.POST('/api/v1/supplies/', { body: body(typed) as Schemas['NewSupplyRequest'] }),
  ) as { version: number }
const change = async (row: Row, values: Record<string, unknown>) =>
  dataOf(
    await api.PATCH('/api/v1/supplies/{id}/', {
      params: { path: { id: row.id } },
      body: values as Schemas['PatchedChangedSupplyRequest'],
    }),
  ) as { version: number }
</script>

<template>
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <section v-if="data" class="sheet">
    <h2>Supplies and packs</h2>
    <DriveTable
      :rows="data as unknown as Row[]"
      thing="supply"
      :fields="SUPPLY"
      :add="add"
      :change="change"
      :body-of="body"
      new-label="Another supply or pack"
    >
      <el-table-column label="Supply" min-width="140">
        <template #default="{ row }"
          >{{ row.name }} <span v-if="row.retired" class="tag">retired</span>
          <span v-if="row.joined" class="soft small joined"
            >{{ row.packs.map((one: { name: string }) => one.name).join(' + ') }},
            {{ wordOf('joined', row.joined).toLowerCase() }}</span
          >
          <span v-if="row.note" class="soft small">{{ row.note }}</span></template
        >
      </el-table-column>
      <el-table-column label="Is" min-width="176">
        <template #default="{ row }">{{
          row.kind === 'pack'
            ? `${row.cells ?? '?'} cells, ${wordOf('chemistry', row.chemistry).toLowerCase()}`
            : row.folds_back
              ? 'bench supply, folds back'
              : 'bench supply'
        }}</template>
      </el-table-column>
      <el-table-column label="Nominal" align="right" width="100">
        <template #default="{ row }"
          ><Figure :value="row.nominal_voltage_v" unit="V" reason="its cells are not known"
        /></template>
      </el-table-column>
      <el-table-column label="Floor" align="right" width="100">
        <template #default="{ row }"
          ><Figure :value="row.floor_v" unit="V" reason="its cells are not known"
        /></template>
      </el-table-column>
      <el-table-column label="Gives" align="right" width="96">
        <template #default="{ row }"
          ><Figure
            :value="row.limit_a"
            unit="A"
            :reason="
              row.kind === 'pack' ? 'rate or capacity is not known' : 'its limit is not known'
            "
          /><span v-if="row.limited_by" class="soft small joined"
            >by {{ row.limited_by }}</span
          ></template
        >
      </el-table-column>
      <el-table-column label="Capacity" align="right" width="120">
        <template #default="{ row }"
          ><Figure
            :value="row.capacity_mah"
            unit="mAh"
            :reason="row.kind === 'pack' ? 'nobody noted it' : 'a bench supply has none'"
        /></template>
      </el-table-column>
      <el-table-column label="Resistance" min-width="150">
        <template #default="{ row }"
          ><Figure
            v-if="row.resistance_ohm != null"
            :value="1000 * row.resistance_ohm"
            unit="mΩ" /><span v-else-if="row.assumed_words" class="soft small assumed"
            >~ {{ row.assumed_words }}</span
          ><Figure v-else :value="null" reason="not measured, and nothing to assume it from"
        /></template>
      </el-table-column>
      <el-table-column label="Cycles" align="right" width="76">
        <template #default="{ row }"
          ><Figure
            :value="row.cycles"
            :reason="row.kind === 'pack' ? 'nobody counted' : 'a bench supply has none'"
        /></template>
      </el-table-column>
    </DriveTable>
    <template v-if="mayWrite">
      <el-button class="more" :aria-expanded="joining" @click="joining = !joining"
        >Join packs into one supply</el-button
      >
      <JoinPacks v-if="joining" :supplies="data" @done="joining = false" />
    </template>
    <p class="small care">
      Packs: charge and store them in a fire-safe place, keep them off the prop's plane, never below
      their floor; never tie a part-used pack to a fresh one. The maker's instructions come first.
    </p>
  </section>
  <PacksNow v-if="data" />
</template>

<style scoped src="./rig.css"></style>
<style scoped>
.joined {
  display: block;
}
.more {
  margin-top: 10px;
}
</style>
