<script setup lang="ts">
/**
 * Runs in a table. With `choosing`, runs that have points are taken into a comparison, and stay
 * taken over pages. With `kind`, its headline figures have columns of their own; without, each run
 * shows those of its own kind. A head with an order asks for it with `update:order`.
 */
import { computed, ref, watch } from 'vue'
import type { TableInstance } from 'element-plus'
import type { Schemas } from '@/api/client'
import { dateTime } from '@/figures/format'
import { columnLook } from '@/figures/columns'
import Figure from '@/figures/Figure.vue'
import FigureCell from '@/figures/FigureCell.vue'
import MotorMark from '@/figures/MotorMark.vue'
import { headOf, labelOf, runKind, unitOf, wordOf } from '@/words/words'
import SortHead from './SortHead.vue'

type Run = Schemas['Run']
const props = defineProps<{
  runs: readonly Run[]
  choosing?: boolean
  kind?: string
  /** Whether heads can be pressed to order by them. */
  ordered?: boolean
}>()
const chosen = defineModel<number[]>('chosen', { default: () => [] })
const order = defineModel<string>('order', { default: '' })
const table = ref<TableInstance>()
const columns = computed(() => (props.kind ? (runKind(props.kind)?.headline ?? []) : []))

const figureOf = (run: Run, name: string) => run.headline.find((figure) => figure.name === name)
const looks = computed(
  () =>
    new Map(
      columns.value.map((name) => [name, columnLook(props.runs.map((run) => figureOf(run, name)))]),
    ),
)
const lookOf = (name: string) => looks.value.get(name) ?? columnLook([])
const mayChoose = (run: Run) => run.comparable
const rowClass = ({ row }: { row: Run }) => (row.review === 'rejected' ? 'rejected' : '')

// What is taken may change elsewhere: the boxes follow.
watch(
  [chosen, () => props.runs, table],
  ([ids, runs]) => {
    const held = new Set(
      (table.value?.getSelectionRows() as Run[] | undefined)?.map((run) => run.id),
    )
    for (const run of runs) {
      if (held.has(run.id) !== ids.includes(run.id))
        table.value?.toggleRowSelection(run, ids.includes(run.id))
    }
  },
  { immediate: true, flush: 'post' },
)

function take(rows: Run[]) {
  const here = new Set(props.runs.map((run) => run.id))
  const ticked = new Set(rows.map((run) => run.id))
  const kept = chosen.value.filter((id) => !here.has(id) || ticked.has(id))
  const added = rows.map((run) => run.id).filter((id) => here.has(id) && !kept.includes(id))
  if (added.length || kept.length !== chosen.value.length) chosen.value = [...kept, ...added]
}
</script>

<template>
  <el-table
    ref="table"
    :data="runs as Run[]"
    row-key="id"
    :row-class-name="rowClass"
    class="runs"
    @selection-change="take"
  >
    <el-table-column
      v-if="choosing"
      type="selection"
      width="44"
      :selectable="mayChoose"
      :reserve-selection="true"
    />
    <el-table-column label="Run and when" width="128">
      <template #header>
        <SortHead v-model="order" :ordered="ordered" name="number" label="Run" />
        <span v-if="!ordered">, when</span>
        <div v-else><SortHead v-model="order" ordered name="started_at" label="When" /></div>
      </template>
      <template #default="{ row }">
        <RouterLink :to="`/runs/${row.id}`">{{ row.id }}</RouterLink>
        <div class="soft small when">{{ dateTime(row.started_at) }}</div>
      </template>
    </el-table-column>
    <el-table-column v-if="!kind" label="Kind" width="84">
      <template #header>
        <SortHead v-model="order" :ordered="ordered" name="kind" label="Kind" />
      </template>
      <template #default="{ row }">{{ runKind(row.kind)?.label }}</template>
    </el-table-column>
    <el-table-column label="Motor" min-width="200">
      <template #header>
        <SortHead v-model="order" :ordered="ordered" name="motor" label="Motor" />
      </template>
      <template #default="{ row }">
        <MotorMark :motor="row.motor" />{{ row.motor_name }}
        <span class="soft">{{ row.sample_mark }}</span>
      </template>
    </el-table-column>
    <el-table-column label="Propeller and supply" min-width="160">
      <template #header>
        <SortHead
          v-model="order"
          :ordered="ordered"
          name="propeller"
          label="Propeller and supply"
        />
      </template>
      <template #default="{ row }">
        {{ row.propeller_name }}
        <div class="soft small">{{ row.supply_name || 'supply not noted' }}</div>
      </template>
    </el-table-column>
    <el-table-column
      v-for="name in columns"
      :key="name"
      :label="headOf(name)"
      align="right"
      min-width="130"
    >
      <template #header>
        <SortHead v-model="order" :ordered="ordered" :name="name" :label="headOf(name)" />
      </template>
      <template #default="{ row }">
        <FigureCell
          :value="figureOf(row as Run, name)?.value"
          :u="figureOf(row as Run, name)?.u"
          :assumed="figureOf(row as Run, name)?.assumed"
          :reason="figureOf(row as Run, name)?.reason"
          :look="lookOf(name)"
        />
      </template>
    </el-table-column>
    <el-table-column v-if="!kind" label="Figures" min-width="336">
      <template #default="{ row }">
        <dl class="figures">
          <div v-for="figure in row.headline" :key="figure.name">
            <dt class="soft">{{ labelOf(figure.name) }}</dt>
            <dd>
              <Figure
                :value="figure.value"
                :u="figure.u"
                :assumed="figure.assumed"
                :reason="figure.reason"
                :unit="unitOf(figure.name)"
              />
            </dd>
          </div>
        </dl>
      </template>
    </el-table-column>
    <el-table-column label="State" width="152">
      <template #default="{ row }">
        <span v-if="!row.outcome" class="tag">recording</span>
        <span
          v-else-if="row.outcome !== 'completed'"
          class="tag caution"
          tabindex="0"
          :data-reason="row.end_reason"
          >{{ row.outcome }}</span
        >
        <span
          v-if="row.review"
          class="tag"
          :class="row.review === 'accepted' ? 'within' : 'over'"
          >{{ wordOf('review', row.review).toLowerCase() }}</span
        >
        <span v-else-if="row.outcome" class="tag">not reviewed</span>
        <span v-if="row.warning_count" class="tag caution"
          >{{ row.warning_count }} <span aria-hidden="true">⚠</span
          ><span class="visually-hidden">{{
            row.warning_count === 1 ? 'warning' : 'warnings'
          }}</span></span
        >
      </template>
    </el-table-column>
    <template #empty><slot name="empty">No run yet.</slot></template>
  </el-table>
</template>

<style scoped>
.runs :deep(.rejected .cell) {
  text-decoration: line-through;
  color: var(--ink-soft);
}
.figures {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  margin: 0;
}
.figures > div {
  /* As wide as its figure; one that has no room left goes below, whole. */
  flex: 1 0 98px;
}
dt {
  font-size: 11px;
  line-height: 1.2;
}
dd {
  margin: 0;
  white-space: nowrap;
}
.tag {
  margin: 1px 3px 1px 0;
}
.when {
  white-space: nowrap;
  font-size: 11.5px;
}
.runs :deep(.el-table__cell) {
  padding: 5px 0;
}
.runs :deep(.cell) {
  padding: 0 8px;
  line-height: 1.35;
}
</style>
