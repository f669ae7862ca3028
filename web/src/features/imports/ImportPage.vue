<script setup lang="ts">
/** A log that somebody else recorded: see what was understood, then confirm. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { ApiError, type Schemas, sendForm, sentenceOf } from '@/api/client'
import {
  motorsQuery,
  propellersQuery,
  refreshRecord,
  standsQuery,
  suppliesQuery,
} from '@/api/queries'
import { useSession } from '@/app/useSession'
import PointTable from '@/features/runs/PointTable.vue'
import Figure from '@/figures/Figure.vue'
import { runKind } from '@/words/words'

const { data: motors } = useQuery(motorsQuery())
const { data: propellers } = useQuery(propellersQuery())
const { data: supplies } = useQuery(suppliesQuery())
const { data: stands } = useQuery(standsQuery())
const { mayWrite } = useSession()
const client = useQueryClient()
const router = useRouter()

const file = ref<File | null>(null)
const understood = ref<Schemas['Understood'] | null>(null)
const problem = ref<unknown>(null)
const busy = ref(false)
const over = ref(false)
const sample = ref<number | null>(null)
const propeller = ref<number | null>(null)
const supply = ref<number | null>(null)
const stand = ref<number | null>(null)
const where = computed(() => (problem.value instanceof ApiError ? problem.value.body.where : null))

async function look(chosen: File | undefined | null) {
  if (!chosen) return
  file.value = chosen
  understood.value = null
  problem.value = null
  busy.value = true
  try {
    const form = new FormData()
    form.append('file', chosen)
    const seen = await sendForm<Schemas['Understood']>('/api/v1/imports/preview/', form)
    understood.value = seen
    sample.value = seen.sample
    propeller.value = seen.propeller
  } catch (failure) {
    problem.value = failure
  } finally {
    busy.value = false
  }
}

/** Kinds of run that turn no propeller. */
const bare = computed(() => runKind(understood.value?.kind ?? '')?.needs_propeller === false)
const ready = computed(() => sample.value !== null && (propeller.value !== null || bare.value))

async function confirm() {
  if (!file.value || !sample.value || !ready.value) return
  problem.value = null
  busy.value = true
  try {
    const form = new FormData()
    form.append('file', file.value)
    form.append('sample', String(sample.value))
    if (propeller.value) form.append('propeller', String(propeller.value))
    if (supply.value) form.append('supply', String(supply.value))
    if (stand.value) form.append('stand', String(stand.value))
    const run = await sendForm<Schemas['RunDetail']>('/api/v1/imports/', form)
    await refreshRecord(client)
    await router.push(`/runs/${run.id}`)
  } catch (failure) {
    problem.value = failure
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <h1>Import a bench log</h1>
  <p v-if="!mayWrite" class="soft">Your role reads the record; a reviewer imports.</p>
  <template v-else>
    <label
      class="sheet drop"
      :class="{ over }"
      @dragover.prevent="over = true"
      @dragleave="over = false"
      @drop.prevent="((over = false), look($event.dataTransfer?.files[0]))"
    >
      <input
        type="file"
        accept=".csv,.json,.parquet,.xlsx,text/csv"
        @change="look(($event.target as HTMLInputElement).files?.[0])"
      />
      <span class="small soft"
        >A CSV with a header row that names time_s, and the channels with their units (throttle_pct,
        thrust_gf, voltage_v, current_a, speed_rpm …), or the same log as JSON, Parquet or XLSX.
        Drop it here, or choose it. Nothing is stored before you confirm.</span
      >
    </label>
    <p v-if="busy" class="soft" role="status">Reading…</p>
    <section v-if="problem" class="sheet fault" role="alert">
      <h2>{{ file?.name }} was not imported; nothing was stored</h2>
      <p>{{ sentenceOf(problem) }}</p>
      <dl v-if="where">
        <div v-if="where.line !== null">
          <dt>Line</dt>
          <dd>{{ where.line }}</dd>
        </div>
        <div v-if="where.column !== null">
          <dt>Column</dt>
          <dd>{{ where.column }}</dd>
        </div>
        <div v-if="where.expected">
          <dt>Expected</dt>
          <dd>{{ where.expected }}</dd>
        </div>
      </dl>
    </section>

    <template v-if="understood">
      <section class="sheet">
        <h2>Understood of {{ understood.file_name }}</h2>
        <p>
          A <strong>{{ understood.kind }}</strong> run of
          {{ understood.row_count.toLocaleString('en-US') }} rows over
          <Figure :value="understood.duration_s" unit="s" /> at
          <Figure :value="understood.rate_hz" unit="Hz" />;
          {{ understood.result.points.length }} plateaus.
        </p>
        <div class="columns">
          <table class="grid">
            <thead>
              <tr>
                <th>Column</th>
                <th>Read as</th>
                <th class="num">Lowest</th>
                <th class="num">Highest</th>
                <th class="num">Missing cells</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="column in understood.columns" :key="column.name">
                <td>{{ column.name }}</td>
                <td>
                  {{ column.label }} <span class="soft small">{{ column.unit }}</span>
                </td>
                <td class="num"><Figure :value="column.lowest" :unit="column.unit" /></td>
                <td class="num"><Figure :value="column.highest" :unit="column.unit" /></td>
                <td class="num">{{ column.missing }}</td>
              </tr>
              <tr v-for="name in understood.carried_columns" :key="name">
                <td>{{ name }}</td>
                <td colspan="4" class="soft">carried through, not used</td>
              </tr>
            </tbody>
          </table>
          <table class="grid">
            <thead>
              <tr>
                <th colspan="2">Preamble</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="line in understood.header" :key="line.key">
                <td>{{ line.key }}</td>
                <td>{{ line.value }}</td>
              </tr>
              <tr v-if="!understood.header.length">
                <td class="soft">none</td>
              </tr>
            </tbody>
          </table>
        </div>
        <p v-for="warning in understood.result.warnings" :key="warning.message" class="remark">
          {{ warning.message }}
        </p>
      </section>
      <section class="sheet">
        <h2>Its points</h2>
        <PointTable :points="understood.result.points" />
      </section>
      <form class="sheet" @submit.prevent="confirm">
        <h2>It belongs to</h2>
        <div class="belongs">
          <div>
            <label for="belongs-sample">Motor and sample</label>
            <select id="belongs-sample" v-model="sample" required>
              <option :value="null" disabled>choose</option>
              <optgroup v-for="motor in motors" :key="motor.id" :label="motor.full_name">
                <option v-for="item in motor.samples" :key="item.id" :value="item.id">
                  {{ motor.full_name }} · {{ item.mark }}
                </option>
              </optgroup>
            </select>
          </div>
          <div>
            <label for="belongs-propeller">Propeller</label>
            <select id="belongs-propeller" v-model="propeller" :required="!bare">
              <option :value="null" :disabled="!bare">{{ bare ? 'none' : 'choose' }}</option>
              <option v-for="item in propellers" :key="item.id" :value="item.id">
                {{ item.full_name }}
              </option>
            </select>
          </div>
          <div>
            <label for="belongs-supply">Supply</label>
            <select id="belongs-supply" v-model="supply">
              <option :value="null">not noted</option>
              <option v-for="item in supplies" :key="item.id" :value="item.id">
                {{ item.name }}
              </option>
            </select>
          </div>
          <div>
            <label for="belongs-stand">Stand</label>
            <select id="belongs-stand" v-model="stand">
              <option :value="null">not noted</option>
              <option v-for="item in stands" :key="item.id" :value="item.id">
                {{ item.name }}
              </option>
            </select>
          </div>
        </div>
        <el-button type="primary" native-type="submit" :disabled="!ready" :loading="busy"
          >Store it as a run</el-button
        >
      </form>
    </template>
  </template>
</template>

<style scoped>
.sheet {
  margin-top: 12px;
}
.drop {
  display: flex;
  gap: 16px;
  align-items: center;
  border-style: dashed;
  border-color: var(--ink-soft);
  cursor: pointer;
}
.drop.over {
  background: var(--copper-soft);
}
.drop span {
  flex: 1;
}
.fault {
  border-left: 5px solid var(--stop);
}
.fault dl {
  display: flex;
  gap: 28px;
  margin: 8px 0 0;
}
dt {
  font-size: 12px;
  color: var(--ink-soft);
}
dd {
  margin: 0;
  font-family: var(--digits);
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 24px;
  align-items: start;
}
.remark {
  border-left: 4px solid var(--caution);
  padding-left: 10px;
  margin: 8px 0 0;
}
.belongs {
  display: flex;
  gap: 14px;
  margin: 8px 0 14px;
}
.belongs > div {
  flex: 1;
  min-width: 0;
  font-size: 13px;
}
select {
  display: block;
  width: 100%;
  height: 32px;
  border: 1px solid var(--el-border-color);
  border-radius: 3px;
  background: var(--el-fill-color-blank);
}
</style>
