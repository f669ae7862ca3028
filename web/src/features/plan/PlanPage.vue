<script setup lang="ts">
/** What shall I run, in what order? */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { campaignsQuery, matrixQuery, suppliesQuery } from '@/api/queries'
import PageState from '@/app/PageState.vue'
import { useRouteQuery } from '@/app/useRouteQuery'
import { useSession } from '@/app/useSession'
import { wordOf } from '@/words/words'
import CampaignForm from './CampaignForm.vue'
import CellSheet from './CellSheet.vue'
import type { Sorting } from './cells'
import HindsightSheet from './HindsightSheet.vue'
import RunSheet from './RunSheet.vue'
import MatrixTable from './MatrixTable.vue'

const router = useRouter()
const { mayWrite } = useSession()
const campaigns = useQuery(campaignsQuery())
const chosen = useRouteQuery('campaign', '')
const wantedSupply = useRouteQuery('supply', '')
const beginning = ref(false)
const sorting = ref<Sorting>('as_named')
const at = ref<[number, number]>([0, 0])
const campaign = computed(() => {
  const all = campaigns.data.value ?? []
  return all.find((one) => String(one.id) === chosen.value) ?? all[0] ?? null
})
const matrix = useQuery(
  computed(() =>
    matrixQuery(campaign.value?.id ?? null, wantedSupply.value ? Number(wantedSupply.value) : null),
  ),
)
const shown = matrix.data
const supplyNames = useQuery(suppliesQuery())
const supplies = computed(() =>
  (campaign.value?.supplies ?? []).map((id) => ({
    id,
    name: supplyNames.data.value?.find((one) => one.id === id)?.name ?? String(id),
  })),
)
const current = computed(() => shown.value?.supply ?? null)
watch(campaign, (now, before) => {
  if (now?.id !== before?.id) at.value = [0, 0]
})

/** Set a cell up at the bench: what it mounts is chosen there, nothing is armed. */
function load(sample: number | undefined, propeller: number | undefined) {
  if (!sample || !propeller || !current.value) return
  void router.push({
    name: 'bench',
    query: { sample, propeller, supply: current.value },
  })
}
const loadCell = () =>
  load(shown.value?.rows[at.value[0]]?.sample, shown.value?.columns[at.value[1]]?.propeller)
function begun(id: number) {
  beginning.value = false
  chosen.value = String(id)
  wantedSupply.value = ''
}
</script>

<template>
  <header class="head">
    <h1>Plan</h1>
    <el-button v-if="mayWrite && !beginning" @click="beginning = true">New campaign</el-button>
  </header>
  <CampaignForm v-if="beginning" @begun="begun" @close="beginning = false" />
  <PageState
    :loading="campaigns.isPending.value"
    :error="campaigns.error.value"
    :retry="campaigns.refetch"
  />
  <section v-if="campaigns.data.value && !campaign && !beginning" class="sheet">
    <h2>No campaign yet</h2>
    <p>
      A campaign has a question and names the motors, propellers and supplies whose runs answer it.
      It then predicts every combination against its limits, and says which run teaches most.
    </p>
  </section>
  <template v-if="campaign">
    <div class="bar">
      <el-select
        v-if="(campaigns.data.value?.length ?? 0) > 1"
        :model-value="campaign.id"
        aria-label="Campaign"
        @update:model-value="(id: number) => begun(id)"
      >
        <el-option
          v-for="one in campaigns.data.value"
          :key="one.id"
          :value="one.id"
          :label="one.title"
        />
      </el-select>
      <strong v-else>{{ campaign.title }}</strong>
      <span class="soft">{{ wordOf('question', campaign.question) }}</span>
      <el-radio-group
        :model-value="current ?? 0"
        aria-label="Supply"
        size="small"
        @update:model-value="wantedSupply = String($event)"
      >
        <el-radio-button v-for="one in supplies" :key="one.id" :value="one.id" :label="one.name" />
      </el-radio-group>
      <label class="sorting"
        >Rows
        <el-select v-model="sorting" size="small" aria-label="Order of the rows">
          <el-option value="as_named" label="as named" />
          <el-option value="thrust_gf" label="by largest thrust" />
          <el-option value="common_g_per_w" label="by g/W" />
          <el-option value="used" label="by room below the limits" />
        </el-select>
      </label>
    </div>
    <PageState
      :loading="matrix.isPending.value"
      :error="matrix.error.value"
      :retry="matrix.refetch"
    />
    <template v-if="shown">
      <section class="sheet next" aria-label="What to run next">
        <h2>What to run next</h2>
        <template v-if="shown.next">
          <p>{{ shown.next.sentence }}</p>
          <el-button type="primary" @click="load(shown.next.sample, shown.next.propeller)"
            >Set it up at the bench</el-button
          >
        </template>
        <p v-else>{{ shown.nothing_next }}</p>
      </section>
      <div v-if="shown.cells.length" class="work">
        <section class="sheet" aria-label="The matrix">
          <MatrixTable
            v-model="at"
            :matrix="shown"
            :sorting="sorting"
            :thrust_gf="campaign.common_thrust_gf ?? 500"
            @load="loadCell"
          />
          <p class="soft small">
            All predicted for full throttle. The bar and the per cent are of the tightest limit, ✓
            counts runs; arrows move, Enter sets the cell up at the bench. Italic names are not
            identified from their own runs.
          </p>
        </section>
        <CellSheet
          :matrix="shown"
          :at="at"
          :thrust_gf="campaign.common_thrust_gf ?? 500"
          :runs-wanted="campaign.runs_wanted ?? 1"
        >
          <el-button class="load" @click="loadCell">Set this cell up at the bench</el-button>
        </CellSheet>
      </div>
    </template>
  </template>
  <RunSheet v-if="campaign" :campaign="campaign.id" :supply="current" @load="load" />
  <HindsightSheet />
</template>

<style scoped>
.head,
.bar {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 18px;
  justify-content: space-between;
}
.bar {
  justify-content: flex-start;
  margin: 4px 0 10px;
}
.bar .el-select {
  width: 260px;
}
.sorting {
  display: flex;
  align-items: center;
  gap: 8px;
}
.sorting .el-select {
  width: 190px;
}
.sheet {
  margin-bottom: 12px;
}
.next {
  border-left: 5px solid var(--copper);
}
.next p {
  font-size: 15px;
  margin: 4px 0 8px;
}
.work {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 330px;
  gap: 12px;
  align-items: start;
}
.load {
  margin-top: 10px;
}
@media (max-width: 1100px) {
  .work {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
