<script setup lang="ts">
/** What shall I run, in what order? */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { requestsQuery } from '@/api/benchQueries'
import { campaignsQuery, matrixQuery } from '@/api/queries'
import PageState from '@/app/PageState.vue'
import { useRouteQuery } from '@/app/useRouteQuery'
import { useSession } from '@/app/useSession'
import CampaignBar from './CampaignBar.vue'
import CampaignForm from './CampaignForm.vue'
import AskedSheet from './AskedSheet.vue'
import BracketSheet from './BracketSheet.vue'
import CellSheet from './CellSheet.vue'
import { readersOf } from './asked'
import type { Sorting } from './cells'
import HindsightSheet from './HindsightSheet.vue'
import MatrixTable from './MatrixTable.vue'
import NextSheet from './NextSheet.vue'
import RunSheet from './RunSheet.vue'

const router = useRouter()
const { mayWrite } = useSession()
const campaigns = useQuery(campaignsQuery())
const chosen = useRouteQuery('campaign', '')
const wantedSupply = useRouteQuery('supply', '')
/** A letter whose campaign is begun. */
const request = useRouteQuery('request', '')
const beginning = ref(Boolean(request.value))
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
const { data: requests } = useQuery(computed(() => requestsQuery(campaign.value?.id ?? null)))
/** The supply that is shown; none while what is shown is still that of another campaign. */
const current = computed(() => {
  const supply = shown.value?.supply
  return supply && campaign.value?.supplies.includes(supply) ? supply : null
})
watch(campaign, (now, before) => {
  if (now?.id !== before?.id) at.value = [0, 0]
})

/** Set a cell up at the bench: what it mounts is chosen there, nothing is armed. */
function load(
  sample: number | undefined,
  propeller: number | undefined,
  supply: number | null = current.value,
) {
  if (!sample || !propeller || !supply) return
  void router.push({ path: '/bench', query: { sample, propeller, supply } })
}
/** The cell in hand, by name. */
const inHand = computed(() => {
  const row = shown.value?.rows[at.value[0]]
  const column = shown.value?.columns[at.value[1]]
  // What is not at hand is predicted only.
  if (!row?.sample || !column || column.away) return null
  return {
    sample: row.sample,
    propeller: column.propeller,
    name: `${row.name} ${row.mark} on ${column.name}`,
  }
})
const loadCell = () => load(inHand.value?.sample, inHand.value?.propeller)
function leave() {
  beginning.value = false
  request.value = ''
}
function begun(id: number) {
  leave()
  chosen.value = String(id)
  wantedSupply.value = ''
}
</script>

<template>
  <header class="head">
    <h1>Plan</h1>
    <el-button v-if="mayWrite && !beginning" @click="beginning = true">New campaign</el-button>
  </header>
  <CampaignForm
    v-if="beginning && mayWrite"
    :request="request ? Number(request) : null"
    @begun="begun"
    @close="leave"
  />
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
    <CampaignBar
      v-model:sorting="sorting"
      :all="campaigns.data.value ?? []"
      :campaign="campaign"
      :supply="current"
      @choose="begun"
      @supply="wantedSupply = String($event)"
    />
    <PageState
      :loading="matrix.isPending.value"
      :error="matrix.error.value"
      :retry="matrix.refetch"
    />
    <template v-if="shown && current">
      <NextSheet :campaign="campaign.id" :matrix="shown" :cell="inHand" @load="load" />
      <BracketSheet :brackets="shown.brackets" />
      <div v-if="shown.cells.length" class="work">
        <section class="sheet" aria-label="The matrix">
          <MatrixTable
            v-model="at"
            :matrix="shown"
            :requests="requests ?? []"
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
          :readers="readersOf(requests ?? [], shown, at[0], at[1])"
        >
          <el-button v-if="inHand" class="load" @click="loadCell"
            >Set this cell up at the bench</el-button
          >
        </CellSheet>
      </div>
    </template>
  </template>
  <AskedSheet
    v-if="campaign"
    :campaign="campaign"
    :matrix="shown"
    @look="(cell: [number, number]) => (at = cell)"
  />
  <RunSheet v-if="campaign" :campaign="campaign.id" :supply="current" @load="load" />
  <HindsightSheet />
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 18px;
  justify-content: space-between;
}
.sheet {
  margin-bottom: 12px;
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
