<script setup lang="ts">
/** The whole bench under one condition: turned as motor × propeller, and row by row. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { type AskedTable, benchTableQuery } from '@/api/judgeQueries'
import PageState from '@/app/PageState.vue'
import { useSession } from '@/app/useSession'
import { useLast } from '@/api/useLast'
import { readTyped } from '@/figures/readNumber'
import { labelOf, unitOf } from '@/words/words'
import { CONDITION_WORDS, groupText, groupWords, ORDER_WORDS, takesLevel } from './bench'
import BenchRows from './BenchRows.vue'
import CompareHead from './CompareHead.vue'
import FigureBars from '@/figures/FigureBars.vue'
import TableStill from '@/charts/TableStill.vue'
import PivotTable from './PivotTable.vue'
import { pivotBars, pivotStill, rowsStill } from './benchStills'

const route = useRoute()
const router = useRouter()
const { mayWrite } = useSession()
const word = (name: string) => (typeof route.query[name] === 'string' ? route.query[name] : '')
const asked = computed<AskedTable>(() => {
  const found: Record<string, unknown> = {}
  for (const name of [
    'condition',
    'craft',
    'supply',
    'figure',
    'order',
    'baseline',
    'motors',
    'also',
  ])
    if (word(name)) found[name] = word(name)
  if (word('level')) {
    const typed = readTyped(word('level'))
    found.level = typed.kind === 'number' ? typed.value : word('level')
  }
  return found as AskedTable
})
const query = useQuery(computed(() => benchTableQuery(asked.value)))
const shown = useLast(query.data)
function ask(changes: Record<string, string | undefined>) {
  const now = Object.fromEntries(
    Object.entries(changes).map(([key, value]) => [key, value || undefined]),
  )
  void router.replace({ query: { ...route.query, ...now } })
}
const level = ref('')
watch(
  () => [word('level'), shown.value?.level],
  () => (level.value = word('level') || String(shown.value?.level ?? '')),
  { immediate: true },
)
const file = computed(() => {
  const words = new URLSearchParams()
  for (const [key, value] of Object.entries(asked.value)) words.set(key, String(value))
  return words.toString()
})
/** A condition with a craft where it needs one. */
function choose(condition: string) {
  const craft =
    condition === 'hover' ? String(shown.value?.craft_listed[0]?.craft ?? '') : undefined
  ask({ condition, craft, level: undefined })
}
const more = computed(() => shown.value?.groups.slice(1) ?? [])
/** Beside: the first condition that does not stand there yet, to be changed in place. */
function addGroup(condition: string) {
  const craft = shown.value?.craft_listed[0]?.craft ?? null
  setGroups([...more.value, { condition, craft, level: null }])
}
function setGroups(groups: { condition: string; level?: number | null; craft?: number | null }[]) {
  ask({ also: groups.map(groupText).join(';') })
}
/** What is no number is sent as it was typed, so that the server says what is wrong with it. */
function changeLevel(at: number, text: string) {
  const typed = readTyped(text)
  const level = typed.kind === 'number' ? String(typed.value) : text.trim()
  const groups = more.value.map((one, k) =>
    k === at && level ? `${one.condition}@${level}` : groupText(one),
  )
  ask({ also: groups.join(';') })
}
const problem = computed(
  () => fieldMessage(query.error.value, 'level') || fieldMessage(query.error.value, 'also'),
)
const bars = ref(false)
const held = computed(() => shown.value?.rows.find((row) => row.baseline) ?? null)
const run = (motor: number, propeller: number | null) =>
  void router.push({ path: '/bench', query: { motor, propeller: propeller ?? undefined } })
const planning = useWrite('campaign', async (body: Schemas['NewCampaignRequest']) =>
  dataOf(await api.POST('/api/v1/campaigns/', { body })),
)
async function plan(what: {
  title: string
  samples: number[]
  propellers: number[]
  supplies: number[]
}) {
  const { samples, propellers, supplies } = what
  const title = what.title.slice(0, 120)
  const body = { title, question: 'comparison' as const, samples, propellers, supplies }
  const made = await planning.send(body)
  if (made) await router.push({ path: '/plan', query: { campaign: made.id } })
}
const figure = computed(() => shown.value?.pivot.name ?? 'thrust_gf')
</script>

<template>
  <CompareHead here="/compare/bench" :reading="query.isFetching.value">
    <a :href="`/api/v1/compare/bench.csv?${file}`" download>CSV</a>
    <a :href="`/api/v1/compare/bench.xlsx?${file}`" download>XLSX</a>
  </CompareHead>
  <div class="bar">
    <label
      >At
      <el-select
        :model-value="shown?.condition ?? 'full'"
        size="small"
        filterable
        default-first-option
        aria-label="Condition"
        class="condition"
        @update:model-value="choose"
      >
        <el-option
          v-for="one in shown?.conditions"
          :key="one"
          :value="one"
          :label="CONDITION_WORDS[one] ?? one"
        />
      </el-select>
    </label>
    <label v-if="shown?.condition === 'hover'"
      >of
      <el-select
        :model-value="shown.craft ?? undefined"
        size="small"
        filterable
        default-first-option
        aria-label="Craft"
        class="supply"
        placeholder="no craft is kept"
        @update:model-value="ask({ craft: String($event) })"
      >
        <el-option
          v-for="one in shown.craft_listed"
          :key="one.craft"
          :value="one.craft"
          :label="one.name"
        />
      </el-select>
    </label>
    <form v-else-if="shown && takesLevel(shown.condition)" @submit.prevent="ask({ level })">
      <label for="bench-level">of</label>
      <el-input
        id="bench-level"
        v-model="level"
        size="small"
        inputmode="decimal"
        class="level"
        @change="ask({ level: String($event) })"
      />
      <span class="soft">{{ unitOf(shown.condition) }}</span>
    </form>
    <label
      >on
      <el-select
        :model-value="shown?.supply ?? ''"
        size="small"
        aria-label="Supply"
        class="supply"
        @update:model-value="ask({ supply: String($event), baseline: undefined })"
      >
        <el-option
          v-for="one in shown?.supplies"
          :key="one.key"
          :value="one.key"
          :label="`${one.words} (${one.rows})`"
        />
        <el-option
          v-if="(shown?.supplies.length ?? 0) > 1 || shown?.supply === 'every'"
          value="every"
          label="every supply, side by side"
        />
      </el-select>
    </label>
    <label
      >Figure
      <el-select
        :model-value="figure"
        size="small"
        filterable
        default-first-option
        aria-label="Figure"
        class="figure-select"
        @update:model-value="ask({ figure: String($event) })"
      >
        <el-option v-for="one in shown?.figures" :key="one" :value="one" :label="labelOf(one)" />
      </el-select>
    </label>
    <label
      >Rows
      <el-select
        :model-value="word('order') || 'propeller'"
        size="small"
        aria-label="Order of the rows"
        class="order"
        @update:model-value="ask({ order: String($event) })"
      >
        <el-option v-for="(label, key) in ORDER_WORDS" :key="key" :value="key" :label="label" />
      </el-select>
    </label>
  </div>
  <div v-if="shown?.rows.length" class="bar" aria-label="Beside it" role="group">
    <span class="soft">Beside it:</span>
    <span v-for="(one, at) in more" :key="at" class="tag beside"
      >{{ groupWords(one) }}
      <input
        v-if="takesLevel(one.condition)"
        :value="one.level ?? ''"
        class="small-level"
        inputmode="decimal"
        :aria-label="`Level of ${CONDITION_WORDS[one.condition]}`"
        @change="changeLevel(at, ($event.target as HTMLInputElement).value)"
      />
      <button
        type="button"
        class="drop"
        :aria-label="`Take away ${groupWords(one)}`"
        @click="setGroups(more.filter((_, k) => k !== at))"
      >
        ×
      </button></span
    >
    <el-select
      v-if="more.length < 4"
      :model-value="undefined"
      size="small"
      filterable
      default-first-option
      placeholder="another condition"
      aria-label="Another condition beside it"
      class="condition"
      @update:model-value="addGroup(String($event))"
    >
      <el-option
        v-for="one in shown.conditions"
        :key="one"
        :value="one"
        :label="CONDITION_WORDS[one] ?? one"
      />
    </el-select>
  </div>
  <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
  <PageState
    :loading="query.isPending.value"
    :error="problem && shown ? null : query.error.value"
    :retry="query.refetch"
  />
  <section v-if="shown && !shown.supplies.length" class="sheet">
    <h2>Nothing to compare yet</h2>
    <p>
      A table of the bench holds every motor on every propeller that was
      <RouterLink to="/bench">run</RouterLink> or <RouterLink to="/readings">typed in</RouterLink>.
    </p>
  </section>
  <template v-else-if="shown">
    <section class="sheet" aria-label="Motor by propeller">
      <h2>
        {{ labelOf(figure) }}, {{ shown.groups[0] ? groupWords(shown.groups[0]) : '' }}
        <el-button size="small" text @click="bars = !bars">{{
          bars ? 'as a table' : 'as bars'
        }}</el-button>
        <TableStill v-if="!bars" name="bench" :table="() => pivotStill(shown!)" />
      </h2>
      <FigureBars
        v-if="bars"
        :rows="pivotBars(shown.pivot)"
        :unit="unitOf(figure)"
        :title="`${labelOf(figure)}, ${shown.groups[0] ? groupWords(shown.groups[0]) : ''}`"
      />
      <PivotTable
        v-else
        :pivot="shown.pivot"
        :may-run="mayWrite"
        :planning="planning.busy.value"
        @run="run"
        @plan="plan"
      />
      <p v-if="planning.problem.value" class="problem" role="alert">
        {{ sentenceOf(planning.problem.value) }}
      </p>
      <p v-for="one in shown.same" :key="one.propeller_name + one.motors[0]?.motor" class="small">
        {{ one.motors.map((motor) => motor.name).join(' and ') }} perform the same on
        {{ one.propeller_name }}: shown to within 2 % in all that is compared.
      </p>
    </section>
    <section class="sheet" aria-label="Row by row">
      <h2>
        {{
          held
            ? `Held against ${held.motor_name} on ${held.propeller_name}`
            : 'Each held against the row before'
        }}
        <el-button v-if="held" size="small" text @click="ask({ baseline: undefined })"
          >against the row before</el-button
        >
        <TableStill name="bench-rows" :table="() => rowsStill(shown!)" />
      </h2>
      <BenchRows :rows="shown.rows" :groups="shown.groups" @hold="ask({ baseline: $event })" />
      <p class="small soft">
        Means over samples and runs; what samples of a model differ by is in ±.
        <template v-if="shown.condition === 'full'"
          >Full throttle is the headline that is quoted most: it compares motors at whatever thrust
          and power each of them happens to reach.</template
        >
        <template v-if="shown.unreviewed">
          {{ shown.unreviewed }} of the runs nobody has reviewed yet; rejected ones do not count.
        </template>
        <template v-if="shown.more">{{ ' ' }}{{ shown.more }} more motors are not shown.</template>
      </p>
    </section>
  </template>
</template>

<style scoped>
.bar,
.bar label,
.bar form {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 14px;
}
.bar {
  margin: 8px 0 10px;
  font-size: 13px;
}
.bar label,
.bar form {
  gap: 6px;
}
.condition,
.order {
  width: 178px;
}
.supply {
  width: 200px;
}
.figure-select {
  width: 190px;
}
.level {
  width: 80px;
}
.sheet {
  margin-bottom: 12px;
}
.beside {
  display: inline-flex;
  align-items: center;
  gap: 4px;
}
.small-level {
  width: 58px;
  font: inherit;
  padding: 1px 4px;
}
.drop {
  border: 0;
  background: none;
  cursor: pointer;
  min-width: 24px;
  min-height: 24px;
}
.problem {
  color: var(--stop);
}
</style>
