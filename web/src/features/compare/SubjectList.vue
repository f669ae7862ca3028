<script setup lang="ts">
/** What is compared, the baseline among it; more runs are found among all, by the server. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { runPageQuery } from '@/api/queries'
import MotorMark from '@/figures/MotorMark.vue'
import type { Mark } from '@/figures/motorMark'

type Subject = Schemas['ComparedSubject']
const props = defineProps<{
  subjects: readonly Subject[]
  marks: Mark[]
  chosen: readonly number[]
  baseline: number | null
  most: number
}>()
const emit = defineEmits<{ chosen: [runs: number[]]; baseline: [run: number] }>()

const base = computed(
  () =>
    props.subjects.find((one) => one.runs.includes(props.baseline ?? -1))?.key ??
    props.subjects[0]?.key,
)
const search = ref('')
const settled = refDebounced(search, 200)
const { data: found, isFetching } = useQuery(
  computed(() => runPageQuery({ search: settled.value || undefined, page_size: 25 })),
)
const left = computed(() =>
  (found.value?.results ?? []).filter(
    (run) => run.comparable && run.review !== 'rejected' && !props.chosen.includes(run.id),
  ),
)
const added = ref<number>()
const named = (run: Schemas['Run']) =>
  `#${run.id} ${run.motor_name} ${run.sample_mark} · ${run.propeller_name} · ${run.supply_name || 'supply not noted'}`
const runsOf = (one: Subject) => (one.runs.length === 1 ? '1 run' : `${one.runs.length} runs`)

function add(id: number) {
  emit('chosen', [...props.chosen, id])
  added.value = undefined
  search.value = ''
}
</script>

<template>
  <section class="sheet picker" aria-label="Compared">
    <div class="list">
      <div v-for="(one, index) in subjects" :key="one.key" class="subject">
        <MotorMark :motor="one.motor" :mark="marks[index]" />
        <span class="name">
          {{ one.motor_name }} <span v-if="one.samples.length">{{ one.samples.join(', ') }}</span> ·
          {{ one.propeller_name || 'no propeller' }} · {{ one.on || 'supply not noted' }}
          <span v-if="one.setup" class="soft">· {{ one.setup }}</span>
        </span>
        <el-popover trigger="click" :width="220">
          <template #reference>
            <el-button text size="small">{{ runsOf(one) }}</el-button>
          </template>
          <p class="runs">
            <RouterLink v-for="id in one.runs" :key="id" :to="`/runs/${id}`">#{{ id }}</RouterLink>
          </p>
        </el-popover>
        <span v-if="!one.drawn" class="tag">in the table only</span>
        <el-radio
          :model-value="base"
          :value="one.key"
          name="baseline"
          @change="emit('baseline', one.key)"
          >baseline<span class="visually-hidden"> {{ one.motor_name }}</span></el-radio
        >
        <el-button
          text
          size="small"
          @click="
            emit(
              'chosen',
              chosen.filter((id) => !one.runs.includes(id)),
            )
          "
        >
          Leave out<span class="visually-hidden">
            {{ one.motor_name }} on {{ one.propeller_name }}, run {{ one.key }}</span
          >
        </el-button>
      </div>
    </div>
    <el-select
      v-model="added"
      class="add"
      filterable
      remote
      :remote-method="(typed: string) => (search = typed)"
      :loading="isFetching"
      :disabled="chosen.length >= most"
      :placeholder="
        chosen.length >= most
          ? `${most} runs are taken`
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
  margin-top: 10px;
  padding: 8px 16px;
}
.list {
  position: relative;
  max-height: 232px;
  overflow-y: auto;
}
.subject {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 28px;
}
.name {
  flex: 1;
}
.subject :deep(.el-radio) {
  margin-right: 0;
  height: 26px;
}
.runs {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  margin: 0;
}
.add {
  margin-top: 6px;
  max-width: 640px;
}
</style>
