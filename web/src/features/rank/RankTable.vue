<script setup lang="ts">
/** The cohort in its order: score, how sure the place is, and what stands beside it. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import TableStill from '@/charts/TableStill.vue'
import { columnLook } from '@/figures/columns'
import Figure from '@/figures/Figure.vue'
import FigureCell from '@/figures/FigureCell.vue'
import { plainFigure } from '@/figures/format'
import MotorMark from '@/figures/MotorMark.vue'
import PlaceStrip from './PlaceStrip.vue'
import VerdictField from './VerdictField.vue'

const props = defineProps<{ ranking: Schemas['Ranking']; mayWrite: boolean }>()
const emit = defineEmits<{ leaveOut: [motor: number] }>()
type Row = Schemas['RankedMotor']
const asRow = (row: unknown) => row as Row
const rows = computed(() => props.ranking.rows.filter((row) => row.place != null))
const totals = computed(() =>
  columnLook(rows.value.map((row) => ({ value: row.total, u: row.total_u }))),
)
const perMass = computed(() =>
  columnLook(rows.value.map((row) => ({ value: row.per_mass, u: row.per_mass_u }))),
)
const perPrice = computed(() =>
  columnLook(rows.value.map((row) => ({ value: row.per_price, u: row.per_price_u }))),
)
const measures = computed(
  () => new Map(props.ranking.measures.map((measure) => [measure.name, measure])),
)
const weighed = computed(
  () => new Set(props.ranking.measures.filter((m) => m.weight > 0).map((m) => m.name)),
)
/** What is weighed first, the rest below it. */
const figuresOf = (row: Row) =>
  [...row.figures].sort(
    (a, b) => Number(weighed.value.has(b.name)) - Number(weighed.value.has(a.name)),
  )
/** The places for a picture, in plain words. */
function still() {
  return {
    title: 'Places of the cohort',
    heads: ['Place', 'Motor', 'Score', 'Score per gram', 'Score per price'],
    rows: rows.value.map((row) => [
      String(row.place),
      row.full_name,
      plainFigure({ value: row.total, u: row.total_u }),
      plainFigure({ value: row.per_mass, u: row.per_mass_u }),
      plainFigure({ value: row.per_price, u: row.per_price_u }),
    ]),
    foot: props.ranking.ties.join(' ') || '± is the standard uncertainty.',
  }
}
const unitOf = (name: string) =>
  name === 'price' ? props.ranking.currency : (measures.value.get(name)?.unit ?? '')
</script>

<template>
  <el-table :data="rows" row-key="motor" class="ranking">
    <el-table-column type="expand" width="34">
      <template #default="{ row }">
        <table class="grid inner">
          <caption class="visually-hidden">
            Figures of
            {{
              asRow(row).full_name
            }}
          </caption>
          <thead>
            <tr>
              <th scope="col">Criterion</th>
              <th scope="col" class="num">Figure</th>
              <th scope="col" class="num">Score</th>
              <th scope="col">Rests on</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in figuresOf(asRow(row))" :key="one.name">
              <td :class="{ soft: !weighed.has(one.name) }">
                {{ measures.get(one.name)?.label }}
                <span v-if="!weighed.has(one.name)" class="small">not weighed</span>
              </td>
              <td class="num">
                <Figure
                  :value="one.figure.value"
                  :u="one.figure.u"
                  :unit="unitOf(one.name)"
                  :reason="one.figure.reason"
                  :assumed="one.figure.assumed"
                  :estimated="one.filled || one.figure.origin === 'estimated'"
                />
              </td>
              <td class="num">
                <Figure :value="one.score" :u="one.score_u" reason="it is not weighed" />
              </td>
              <td class="soft small">
                <template v-if="one.filled">estimated from its runs on other propellers</template>
                <template v-else-if="one.runs"
                  >{{ one.samples }} sample{{ one.samples === 1 ? '' : 's' }}, {{ one.runs }} run{{
                    one.runs === 1 ? '' : 's'
                  }}</template
                >
                <template v-else-if="one.name === 'price'">{{ asRow(row).price_words }}</template>
              </td>
            </tr>
            <tr v-for="one in asRow(row).missing" :key="one.name">
              <td>{{ measures.get(one.name)?.label }}</td>
              <td class="num"><Figure :value="null" :reason="one.why" /></td>
              <td class="num figure">—</td>
              <td class="soft small">Missing, not filled in: {{ one.why }}.</td>
            </tr>
          </tbody>
        </table>
      </template>
    </el-table-column>
    <el-table-column label="Place" width="58" align="right">
      <template #default="{ row }"
        ><span class="place">{{ asRow(row).place ?? '—' }}</span></template
      >
    </el-table-column>
    <el-table-column label="Motor" min-width="200">
      <template #default="{ row }">
        <div class="name">
          <MotorMark :motor="asRow(row).motor" />
          <RouterLink :to="`/motors/${asRow(row).motor}`">{{ asRow(row).full_name }}</RouterLink>
        </div>
        <p v-if="asRow(row).warnings.length" class="warnings">
          <span v-for="words in asRow(row).warnings" :key="words" class="tag caution">{{
            words
          }}</span>
        </p>
        <VerdictField
          :motor="asRow(row).motor"
          :name="asRow(row).full_name"
          :version="asRow(row).version"
          :verdict="asRow(row).verdict"
          :may-write="mayWrite"
        />
      </template>
    </el-table-column>
    <el-table-column width="112" align="right">
      <template #header>Score<br /><span class="soft">mean = 100</span></template>
      <template #default="{ row }"
        ><FigureCell
          :value="asRow(row).total"
          :u="asRow(row).total_u"
          :look="totals"
          :reason="asRow(row).why_unranked"
      /></template>
    </el-table-column>
    <el-table-column label="How sure its place is" width="156">
      <template #default="{ row }"
        ><PlaceStrip
          :places="asRow(row).places"
          :from="asRow(row).place_from"
          :to="asRow(row).place_to"
      /></template>
    </el-table-column>
    <el-table-column width="150" align="right">
      <template #header>Score for<br /><span class="soft">mass and price</span></template>
      <template #default="{ row }">
        <div class="per">
          <FigureCell
            :value="asRow(row).per_mass"
            :u="asRow(row).per_mass_u"
            :look="perMass"
            :reason="asRow(row).mass_g.reason || 'not ranked'"
          /><span class="soft">per g</span>
          <FigureCell
            :value="asRow(row).per_price"
            :u="asRow(row).per_price_u"
            :look="perPrice"
            :reason="asRow(row).price.reason || 'not ranked'"
          /><span class="soft">per {{ ranking.currency || 'price' }}</span>
        </div>
      </template>
    </el-table-column>
    <el-table-column width="40" align="center">
      <template #header><span class="visually-hidden">Leave out</span></template>
      <template #default="{ row }"
        ><el-button
          size="small"
          text
          :aria-label="`Leave ${asRow(row).full_name} out`"
          data-reason="leave this motor out of the cohort"
          @click="emit('leaveOut', asRow(row).motor)"
          >×</el-button
        ></template
      >
    </el-table-column>
    <template #empty>Nobody was run under this load.</template>
  </el-table>
  <TableStill v-if="rows.length" name="ranking" :table="still" />
</template>

<style scoped>
.ranking :deep(.cell) {
  padding: 0 8px;
}
.ranking :deep(td.el-table__cell) {
  vertical-align: top;
}
.place {
  font-size: 20px;
  line-height: 1;
}
.name {
  font-weight: 700;
}
.name a {
  color: inherit;
  text-decoration-color: var(--line);
}
.warnings {
  display: flex;
  flex-wrap: wrap;
  gap: 3px;
  margin: 2px 0 0;
}
.inner {
  margin: 0 0 6px 40px;
  width: calc(100% - 60px);
}
.per {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 0 3px;
  justify-items: end;
  align-items: baseline;
}
.per .soft {
  justify-self: start;
  font-size: 12.5px;
  white-space: nowrap;
}
.ranking .tag {
  white-space: normal;
}
</style>
