<script setup lang="ts">
/** What the motor is: its kind, its size code on its basis, its kV label; and its samples. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { refreshRecord } from '@/api/queries'
import { useSession } from '@/app/useSession'
import Figure from '@/figures/Figure.vue'
import SampleAdder from '@/features/motor/SampleAdder.vue'
import MergeView from '@/merging/MergeView.vue'
import { useFactForm } from '@/merging/useFactForm'
import SampleRow from './SampleRow.vue'
import { optional } from './typed'
import { choices } from '@/words/words'

const props = defineProps<{ file: Schemas['MotorFile'] }>()
const { mayWrite } = useSession()
const client = useQueryClient()
const motor = computed(() => props.file.motor)

const { form, base, dirty, problem, conflict, busy, save, drop } = useFactForm({
  key: () => `motor-${motor.value.id}`,
  stored: () => ({
    version: motor.value.version ?? 1,
    values: {
      name: motor.value.name,
      kind: motor.value.kind ?? 'outrunner',
      size_code: motor.value.size_code,
      size_basis: motor.value.size_basis,
      kv_label_rpm_per_v:
        motor.value.kv_label_rpm_per_v == null ? '' : String(motor.value.kv_label_rpm_per_v),
      note: motor.value.note ?? '',
    },
  }),
  write: async (values, version) => {
    const kv = optional(String(values.kv_label_rpm_per_v ?? ''))
    const changed = dataOf(
      await api.PATCH('/api/v1/motors/{id}/', {
        params: { path: { id: motor.value.id } },
        body: {
          ...values,
          kv_label_rpm_per_v: kv === undefined ? Number.NaN : kv,
          version,
        } as Schemas['PatchedMotorChangeRequest'],
      }),
    )
    await refreshRecord(client)
    return changed.version ?? version
  },
})
</script>

<template>
  <section class="sheet">
    <h2>The motor</h2>
    <form class="identity" @submit.prevent="save()">
      <div>
        <label for="id-kind">Kind</label>
        <select id="id-kind" v-model="form.kind" :disabled="!mayWrite">
          <option v-for="one in choices('motor_kind')" :key="one.key" :value="one.key">
            {{ one.label }}
          </option>
        </select>
      </div>
      <div>
        <label for="id-name">Name</label>
        <input id="id-name" v-model="form.name" :disabled="!mayWrite" maxlength="60" />
      </div>
      <div>
        <label for="id-size">Size code</label>
        <input id="id-size" v-model="form.size_code" :disabled="!mayWrite" maxlength="12" />
      </div>
      <div>
        <label for="id-basis">which measures the</label>
        <select id="id-basis" v-model="form.size_basis" :disabled="!mayWrite">
          <option v-for="one in choices('size_basis')" :key="one.key" :value="one.key">
            {{ one.label }}
          </option>
        </select>
      </div>
      <div>
        <label for="id-kv">kV on the label <span class="soft">(rpm/V)</span></label>
        <input id="id-kv" v-model="form.kv_label_rpm_per_v" :disabled="!mayWrite" />
      </div>
      <div class="wide">
        <label for="id-note">Note</label>
        <input id="id-note" v-model="form.note" :disabled="!mayWrite" />
      </div>
      <el-button v-if="dirty" type="primary" native-type="submit" :loading="busy"
        >Keep the change</el-button
      >
    </form>
    <p class="reading">
      <Figure :value="file.size.diameter_mm" unit="mm" /> ×
      <Figure :value="file.size.height_mm" unit="mm" /> by its code · stator volume
      <Figure :value="file.size.stator_volume_mm3" unit="mm³" :reason="file.size.absent_reason" />
      <span v-if="file.size.absent_reason" class="soft small">{{ file.size.absent_reason }}</span>
    </p>
    <p v-if="file.size.doubt" class="doubt" role="status">{{ file.size.doubt }}</p>
    <p v-if="problem" class="problem" role="alert">
      {{
        fieldMessage(problem, 'size_code') ||
        fieldMessage(problem, 'kv_label_rpm_per_v') ||
        sentenceOf(problem)
      }}
    </p>
    <MergeView
      v-if="conflict"
      :base="base"
      :mine="form"
      :current="conflict"
      @settle="(values, version) => save(values as typeof form, version)"
      @drop="drop"
    />
    <h3>Samples</h3>
    <table class="grid">
      <thead>
        <tr>
          <th>Mark</th>
          <th>Turns</th>
          <th>Parcel</th>
          <th>Note</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <SampleRow
          v-for="sample in motor.samples"
          :key="sample.id"
          :sample="sample"
          :parcels="file.parcels"
        />
      </tbody>
    </table>
    <SampleAdder :motor="motor.id" :taken="motor.samples.map((sample) => sample.mark)" />
  </section>
</template>

<style scoped src="./intake.css"></style>
