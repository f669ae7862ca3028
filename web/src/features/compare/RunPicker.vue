<script setup lang="ts">
/** The compared runs and the baseline; more are found among all runs, by the server. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { runPageQuery } from '@/api/queries'
import MotorMark from '@/figures/MotorMark.vue'
import type { Mark } from '@/figures/motorMark'

const MOST = 8
const props = defineProps<{ runs: readonly Schemas['Run'][]; marks: Mark[] }>()
const chosen = defineModel<number[]>('chosen', { required: true })
const baseline = defineModel<number | null>('baseline', { required: true })

const base = computed(() => baseline.value ?? chosen.value[0])
const search = ref('')
const settled = refDebounced(search, 200)
const { data: found, isFetching } = useQuery(
  computed(() => runPageQuery({ search: settled.value || undefined, page_size: 25 })),
)
const left = computed(() =>
  (found.value?.results ?? []).filter(
    (run) => run.comparable && run.review !== 'rejected' && !chosen.value.includes(run.id),
  ),
)
const added = ref<number>()
const named = (run: Schemas['Run']) =>
  `#${run.id} ${run.motor_name} ${run.sample_mark} · ${run.propeller_name} · ${run.supply_name || 'supply not noted'}`
const nameOf = (id: number) => {
  const run = props.runs.find((one) => one.id === id)
  return run ? named(run).slice(`#${id} `.length) : 'reading…'
}
const motorOf = (id: number) => props.runs.find((one) => one.id === id)?.motor ?? 0

function add(id: number) {
  chosen.value = [...chosen.value, id]
  added.value = undefined
  search.value = ''
}
</script>

<template>
  <section class="sheet picker" aria-label="Compared runs">
    <div v-for="(id, index) in chosen" :key="id" class="run">
      <MotorMark :motor="motorOf(id)" :mark="marks[index]" />
      <span class="name">
        <RouterLink :to="`/runs/${id}`">#{{ id }}</RouterLink> {{ nameOf(id) }}
      </span>
      <el-radio :model-value="base" :value="id" name="baseline" @change="baseline = id"
        >baseline</el-radio
      >
      <el-button text size="small" @click="chosen = chosen.filter((other) => other !== id)">
        Leave out<span class="visually-hidden"> run {{ id }}</span>
      </el-button>
    </div>
    <el-select
      v-model="added"
      class="add"
      filterable
      remote
      :remote-method="(typed: string) => (search = typed)"
      :loading="isFetching"
      :disabled="chosen.length >= MOST"
      :placeholder="
        chosen.length >= MOST
          ? `${MOST} runs are taken`
          : 'Add a run: motor, prop, supply, kV, number'
      "
      aria-label="Add a run"
      @change="add"
    >
      <el-option v-for="run in left" :key="run.id" :value="run.id" :label="named(run)" />
    </el-select>
  </section>
</template>

<style scoped>
.picker {
  margin-top: 12px;
  padding: 8px 16px;
}
.run {
  display: flex;
  gap: 8px;
  align-items: center;
  padding: 1px 0;
}
.name {
  flex: 1;
}
.add {
  margin-top: 6px;
  max-width: 640px;
}
</style>
