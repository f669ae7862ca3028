<script setup lang="ts">
/** What should this craft carry? */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { craftListQuery, matchQuery } from '@/api/judgeQueries'
import PageState from '@/app/PageState.vue'
import { useRouteQuery } from '@/app/useRouteQuery'
import { useSession } from '@/app/useSession'
import ChartSheet from '@/charts/ChartSheet.vue'
import TableStill from '@/charts/TableStill.vue'
import { wordOf } from '@/words/words'
import CandidateTable from './CandidateTable.vue'
import CloserLook from './CloserLook.vue'
import CraftForm from './CraftForm.vue'
import FellOut from './FellOut.vue'
import MatchHead, { type Editing } from './MatchHead.vue'
import { inChart, matchOption, matchStill, matchTable } from './matchOption'
import PicksSheet from './PicksSheet.vue'
import { count } from '@/figures/format'

const HEIGHT = 300
const router = useRouter()
const { mayWrite } = useSession()
const list = useQuery(craftListQuery())
const wanted = useRouteQuery('craft', '')
const looked = useRouteQuery('look', '')
const editing = ref<Editing>('')
const fallen = ref(false)
const craft = computed(() => {
  const all = list.data.value ?? []
  return all.find((one) => String(one.id) === wanted.value) ?? all[0] ?? null
})
const match = useQuery(computed(() => matchQuery(craft.value?.id ?? null)))
const found = match.data
const rows = computed(() => (found.value?.rows ?? []).filter((row) => fallen.value || !row.barred))
const barred = computed(() => (found.value?.rows ?? []).filter((row) => row.barred).length)
const name = computed(() => looked.value || found.value?.picks?.chosen || rows.value[0]?.name || '')
const row = computed(() => found.value?.rows.find((one) => one.name === name.value) ?? null)
const drawn = computed(() => inChart(found.value?.rows ?? []).length > 1)

function kept(id: number) {
  editing.value = ''
  looked.value = ''
  wanted.value = String(id)
}
function setUp() {
  if (!row.value) return
  void router.push({
    path: '/bench',
    query: { motor: row.value.motor, propeller: row.value.propeller ?? undefined },
  })
}
const still = () => matchStill(craft.value?.name ?? '', rows.value)
</script>

<template>
  <MatchHead
    v-model:editing="editing"
    :all="list.data.value ?? []"
    :craft="craft"
    :found="Boolean(found)"
    :may-write="mayWrite"
    @choose="kept"
  />
  <CraftForm
    v-if="editing"
    :key="`${editing} ${craft?.id}`"
    :craft="editing === 'new' ? null : craft"
    :copy="editing === 'copy'"
    @kept="kept"
    @close="editing = ''"
  />
  <PageState :loading="list.isPending.value" :error="list.error.value" :retry="list.refetch" />
  <section v-if="list.data.value && !craft && !editing" class="sheet">
    <h2>No craft yet</h2>
    <p>
      Say what is to fly: how many motors and cells, what it weighs without them, its pack. Every
      motor that was run or can be predicted is then put on it, and three are picked with the trade
      in words.
    </p>
  </section>
  <template v-if="craft">
    <p class="soft line">
      {{ wordOf('layout', craft.layout ?? '') }}, {{ craft.motors }} motor{{
        craft.motors === 1 ? '' : 's'
      }}, {{ craft.cells }} cells of {{ count(craft.capacity_mah) }} mAh; use:
      {{ wordOf('use', craft.use ?? '') }}.
    </p>
    <PageState :loading="match.isPending.value" :error="match.error.value" :retry="match.refetch" />
    <div v-if="found" class="work">
      <div class="main">
        <PicksSheet :found="found" />
        <section v-if="drawn" class="sheet chart">
          <ChartSheet
            :option="matchOption(found.rows, name)"
            :table="matchTable(found.rows)"
            name="match"
            :height="HEIGHT"
            label="Thrust-to-weight over minutes; lines are ±2u, hollow marks are predicted"
          />
        </section>
        <section class="sheet table" aria-label="Candidates">
          <CandidateTable
            :rows="rows"
            :chosen="name"
            :has-pack="craft.rated_c != null"
            @choose="looked = $event"
          />
          <el-checkbox v-if="barred" v-model="fallen" size="small"
            >show the {{ barred }} that fell out too</el-checkbox
          >
          <TableStill name="match" :table="still" />
          <p class="small soft">
            Per motor, but for mass, ratio and minutes. Slanted with ~ is predicted. Lines in the
            chart are ±2u of what was run, without what moves all of them alike.
            {{ found.remarks.join(' ') }}
            <template v-if="found.more"> {{ found.more }} more are not listed.</template>
          </p>
        </section>
        <FellOut v-if="found.fell_out.length" :reasons="found.fell_out" />
        <p class="small caution">
          Static figures make no craft safe: packs and propellers are sized with their makers'
          instructions, and a first flight is flown away from people by the rules of the place.
        </p>
      </div>
      <CloserLook
        v-if="row"
        class="side"
        :craft="craft.id"
        :motors="craft.motors ?? 1"
        :row="row"
        @set-up="setUp"
      />
    </div>
  </template>
</template>

<style scoped>
.line {
  margin: 6px 0 8px;
}
.work {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 320px;
  gap: 12px;
  align-items: start;
}
.main > .sheet {
  margin-bottom: 12px;
}
.chart {
  padding: 8px 6px 4px;
}
.table {
  padding: 6px 8px 10px;
}
.caution {
  color: var(--caution-ink);
}
@media (max-width: 1100px) {
  .work {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
