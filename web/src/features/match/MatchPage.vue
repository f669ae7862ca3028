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
import { inChart, matchOption, matchStill, matchTable } from './matchOption'
import { levelList, levelWords } from './words'
import { count } from '@/figures/format'

const HEIGHT = 300
const NOBODY = { names: [], more: 0 }
const router = useRouter()
const { mayWrite } = useSession()
const list = useQuery(craftListQuery())
const wanted = useRouteQuery('craft', '')
const looked = useRouteQuery('look', '')
const editing = ref<'' | 'new' | 'change' | 'copy'>('')
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
const chosenRow = computed(
  () => found.value?.rows.find((one) => one.name === found.value?.picks?.chosen) ?? null,
)
const strong = computed(() => levelList(found.value?.picks?.alike.strongest ?? NOBODY))
const at = computed(() => `/api/v1/craft/${craft.value?.id ?? 0}/match`)
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
  <header class="head">
    <h1>Match</h1>
    <el-select
      v-if="list.data.value?.length"
      :model-value="craft?.id"
      aria-label="Craft"
      filterable
      default-first-option
      class="which"
      @update:model-value="(id: number) => kept(id)"
    >
      <el-option
        v-for="one in list.data.value"
        :key="one.id"
        :value="one.id"
        :label="one.retired ? `${one.name} (retired)` : one.name"
      />
    </el-select>
    <RouterLink v-if="craft" :to="`/afterwards?craft=${craft.id}`">Its flights</RouterLink>
    <template v-if="mayWrite && !editing">
      <el-button v-if="craft" size="small" @click="editing = 'change'">Change it</el-button>
      <el-button v-if="craft" size="small" @click="editing = 'copy'"
        >Copy, with something changed</el-button
      >
      <el-button size="small" :type="craft ? undefined : 'primary'" @click="editing = 'new'"
        >New craft</el-button
      >
    </template>
    <nav v-if="craft && found" aria-label="As files">
      <a :href="`${at}.csv`" download>CSV</a>
      <a :href="`${at}.xlsx`" download>XLSX</a>
      <a :href="`${at}.pdf`" download>one page (PDF)</a>
    </nav>
  </header>
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
        <section class="sheet picks" aria-label="What to choose">
          <template v-if="found.picks">
            <p class="lead">
              Choose <strong>{{ found.picks.chosen }}</strong>: {{ found.picks.trade
              }}<template v-if="found.picks.chosen !== found.picks.strongest">
                against the strongest, {{ found.picks.strongest }}</template
              >. <span class="soft level">{{ levelWords(found.picks.alike.chosen) }}</span>
            </p>
            <p v-if="found.picks.strongest !== found.picks.chosen && strong" class="soft">
              As strong as the strongest, as far as is told: {{ strong }}.
            </p>
            <p v-if="found.picks.thriftiest !== found.picks.chosen">
              Thriftiest in hover: {{ found.picks.thriftiest }}.
              <span class="soft">{{ levelWords(found.picks.alike.thriftiest) }}</span>
            </p>
          </template>
          <p v-if="chosenRow?.cautions.length" class="caution">
            To know of it: {{ chosenRow.cautions.join('; ') }}.
          </p>
          <p v-if="!found.picks" class="lead">Nothing to choose: {{ found.no_pick }}.</p>
          <div v-if="found.upgrade" class="upgrade">
            <h2>Instead of {{ found.upgrade.now }}</h2>
            <p v-if="found.upgrade.why_not">{{ found.upgrade.why_not }}.</p>
            <p v-else-if="!found.upgrade.changes.length">Nothing that may be chosen changes it.</p>
            <p v-for="one in found.upgrade.changes" :key="one.kind">
              <span class="tag">{{ one.kind }}</span>
              <span :class="{ estimated: one.estimated }">{{ one.sentence }}</span>
            </p>
          </div>
        </section>
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
        <section v-if="found.fell_out.length" class="sheet" aria-label="Why the rest fell out">
          <h2>Why the rest fell out</h2>
          <details v-for="one in found.fell_out" :key="one.reason">
            <summary>{{ one.count }}: {{ one.reason }}</summary>
            <ul>
              <li v-for="words in one.examples" :key="words">{{ words }}</li>
            </ul>
          </details>
        </section>
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
.head {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 12px;
}
.head nav {
  margin-left: auto;
  display: flex;
  gap: 12px;
}
.which {
  width: 260px;
}
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
.picks {
  border-left: 5px solid var(--copper);
}
.level {
  font-size: 14px;
}
.picks p {
  margin: 0 0 6px;
}
.lead {
  font-size: 16px;
}
.upgrade {
  margin-top: 10px;
}
.upgrade h2 {
  font-size: 14px;
  margin-bottom: 4px;
}
.upgrade .tag {
  margin-right: 6px;
}
.estimated {
  font-style: italic;
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
summary {
  cursor: pointer;
}
details ul {
  margin: 2px 0 6px;
  padding-left: 22px;
}
@media (max-width: 1100px) {
  .work {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
