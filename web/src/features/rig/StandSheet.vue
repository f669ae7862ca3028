<script setup lang="ts">
/** One stand: how it turns thrust into a reading, what it is worth, and whether it still holds. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, dataOf, type Schemas } from '@/api/client'
import { standQuery } from '@/api/rigQueries'
import { useWrite } from '@/api/useWrite'
import PageState from '@/app/PageState.vue'
import { useSession } from '@/app/useSession'
import CalibrationSheet from './CalibrationSheet.vue'
import CheckMass from './CheckMass.vue'
import DriveForm from './DriveForm.vue'
import { bodyOf, type Row, STAND, type Typed } from './facts'
import GeometrySheet from './GeometrySheet.vue'
import InstrumentTable from './InstrumentTable.vue'

const props = defineProps<{ stand: number }>()
const { data, isPending, error, refetch } = useQuery(computed(() => standQuery(props.stand)))
const { mayWrite } = useSession()
const writing = useWrite('stand', async (body: Schemas['PatchedChangedStandRequest']) =>
  dataOf(await api.PATCH('/api/v1/stands/{id}/', { params: { path: { id: props.stand } }, body })),
)
async function change(typed: Typed, version: number | null) {
  const made = await writing.sendOrThrow({ ...bodyOf(STAND, typed), version: version ?? undefined })
  return made.version ?? 1
}
const retire = () =>
  data.value && writing.send({ retired: !data.value.retired, version: data.value.version })
</script>

<template>
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <template v-if="data">
    <div class="halves">
      <section class="sheet">
        <CheckMass :stand="data" />
      </section>
      <section class="sheet">
        <GeometrySheet :stand="data" />
      </section>
    </div>
    <section class="sheet"><CalibrationSheet :stand="data" /></section>
    <section class="sheet"><InstrumentTable :stand="data" /></section>
    <section v-if="mayWrite" class="sheet">
      <h2>{{ data.name }} as declared</h2>
      <DriveForm what="stand" :fields="STAND" :row="data as unknown as Row" :write="change">
        <el-button :loading="writing.busy.value" @click="retire">{{
          data.retired ? 'Put back into use' : 'Retire'
        }}</el-button>
      </DriveForm>
      <p class="small soft">
        Relative standard uncertainties; empty is unknown, and what is usual for its kind is assumed
        and marked. A calibration takes the place of the declared u from its day on. Comparisons on
        one stand share it, so that part cancels.
      </p>
    </section>
  </template>
</template>

<style scoped src="./rig.css"></style>
<style scoped>
.halves {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 14px;
  align-items: start;
}
@media (max-width: 1050px) {
  .halves {
    grid-template-columns: minmax(0, 1fr);
    gap: 0;
  }
}
</style>
