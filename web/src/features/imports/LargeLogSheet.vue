<script setup lang="ts">
/** A large bench log: what its beginning or its end tells, whose it is, and storing it. */
import { computed, ref } from 'vue'
import { type Schemas, sentenceOf } from '@/api/client'
import ChoiceField from '@/forms/ChoiceField.vue'
import PropellerField from '@/forms/PropellerField.vue'
import SampleField from '@/forms/SampleField.vue'
import { labelOf, runKind } from '@/words/words'
import { megabytes } from './large'
import LargeProgress from './LargeProgress.vue'
import { useLargeFile } from './useLargeFile'
import { useSupplyAndStand } from './useSupplyAndStand'
import { count } from '@/figures/format'

const props = defineProps<{ file: File; inbox: number | null; opened: Schemas['Opened'] }>()
const emit = defineEmits<{ stored: [runs: { id: number }[]] }>()
const { supplies, stands } = useSupplyAndStand()
const run = computed(() => props.opened.runs[0])
const kind = computed(() => run.value?.kind ?? '')
const parquet = computed(() => props.file.name.toLowerCase().endsWith('.parquet'))
const sample = ref<number | null>(run.value?.sample ?? null)
const propeller = ref<number | null>(run.value?.propeller ?? null)
const supply = ref(run.value?.supply ?? 0)
const stand = ref(0)
const bare = computed(() => run.value?.needs_propeller === false)
const ready = computed(() => sample.value !== null && (propeller.value !== null || bare.value))
const large = useLargeFile()
async function store() {
  if (!sample.value || !ready.value) return
  const made = await large.store(props.file, props.inbox, {
    sample: sample.value,
    propeller: bare.value ? null : propeller.value,
    supply: supply.value || null,
    stand: stand.value || null,
    mapping: null,
  })
  if (made) emit('stored', [{ id: made }])
}
</script>

<template>
  <section class="sheet">
    <h2>{{ opened.file_name }}</h2>
    <p v-if="run">
      A <strong>{{ runKind(kind)?.label ?? kind }}</strong> run of {{ parquet ? '' : 'about '
      }}{{ count(run.row_count) }} rows<template v-if="file.size"
        >, {{ megabytes(file.size) }}</template
      >. {{ parquet ? 'Its end' : 'Its beginning' }} was looked at; the rest is read, as strictly,
      while it is stored, and where something is wrong none of it is.
    </p>
    <p class="channels">
      <span v-for="column in opened.columns" :key="column.name" class="tag">{{
        column.channel ? labelOf(column.channel) : `${column.name}, kept in the file only`
      }}</span>
    </p>
  </section>
  <el-form class="sheet" @submit.prevent="store">
    <h2>It belongs to</h2>
    <div class="belongs">
      <SampleField id="belongs-sample" v-model="sample" label="Motor and sample" />
      <PropellerField v-if="!bare" id="belongs-propeller" v-model="propeller" label="Propeller" />
      <ChoiceField id="belongs-supply" v-model="supply" label="Supply" :choices="supplies" />
      <ChoiceField id="belongs-stand" v-model="stand" label="Stand" :choices="stands" />
    </div>
    <el-button type="primary" native-type="submit" :disabled="!ready" :loading="large.busy.value"
      >Store it as a run</el-button
    >
    <LargeProgress :large="large" />
    <p v-if="large.problem.value" class="problem" role="alert">
      {{ sentenceOf(large.problem.value) }}
    </p>
  </el-form>
</template>

<style scoped>
.sheet {
  margin-top: 12px;
}
.channels {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin: 8px 0 0;
}
.belongs {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  margin: 8px 0 14px;
}
.problem {
  color: var(--stop);
  overflow-wrap: anywhere;
}
</style>
