<script setup lang="ts">
/** What the motor is: its kind, its size code on its basis, its kV label; and its samples. */
import { computed } from 'vue'
import { api, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import Figure from '@/figures/Figure.vue'
import { readTyped } from '@/figures/readNumber'
import ChoiceField from '@/forms/ChoiceField.vue'
import NumberField from '@/forms/NumberField.vue'
import TextField from '@/forms/TextField.vue'
import SampleAdder from '@/features/motor_file/SampleAdder.vue'
import MergeView from '@/merging/MergeView.vue'
import { useFactForm } from '@/merging/useFactForm'
import SampleRow from './SampleRow.vue'
import { choices } from '@/words/words'

const props = defineProps<{ file: Schemas['MotorFile'] }>()
const { mayWrite } = useSession()
const motor = computed(() => props.file.motor)

const change = useWrite('motor', async (body: Schemas['PatchedMotorChangeRequest']) =>
  dataOf(
    await api.PATCH('/api/v1/motors/{id}/', { params: { path: { id: motor.value.id } }, body }),
  ),
)
const { form, base, dirty, problem, conflict, busy, save, drop } = useFactForm({
  key: () => `motor-${motor.value.id}`,
  stored: () => ({
    version: motor.value.version ?? 1,
    values: {
      name: motor.value.name,
      kind: motor.value.kind ?? 'outrunner',
      size_code: motor.value.size_code ?? '',
      size_basis: motor.value.size_basis ?? '',
      kv_label_rpm_per_v:
        motor.value.kv_label_rpm_per_v == null ? '' : String(motor.value.kv_label_rpm_per_v),
      note: motor.value.note ?? '',
    },
  }),
  write: async (values, version) => {
    const typed = readTyped(String(values.kv_label_rpm_per_v ?? ''), [50, 30_000])
    const kv = typed.kind === 'number' ? typed.value : typed.kind === 'empty' ? null : Number.NaN
    const body = { ...values, kv_label_rpm_per_v: kv, version }
    const changed = await change.sendOrThrow(body as Schemas['PatchedMotorChangeRequest'])
    return changed.version ?? version
  },
})
</script>

<template>
  <section class="sheet">
    <h2>The motor</h2>
    <el-form class="identity" @submit.prevent="save()">
      <ChoiceField
        id="id-kind"
        v-model="form.kind"
        label="Kind"
        :choices="choices('motor_kind')"
        :disabled="!mayWrite"
      />
      <TextField
        id="id-name"
        v-model="form.name"
        label="Name"
        :disabled="!mayWrite"
        :maxlength="60"
      />
      <TextField
        id="id-size"
        v-model="form.size_code"
        label="Size code"
        :disabled="!mayWrite"
        :maxlength="12"
        :problem="fieldMessage(problem, 'size_code')"
      />
      <ChoiceField
        id="id-basis"
        v-model="form.size_basis"
        label="which measures the"
        :choices="choices('size_basis')"
        :disabled="!mayWrite"
      />
      <NumberField
        id="id-kv"
        v-model="form.kv_label_rpm_per_v"
        label="kV on the label"
        unit="rpm/V"
        width="usual"
        :within="[50, 30_000]"
        :disabled="!mayWrite"
        :problem="fieldMessage(problem, 'kv_label_rpm_per_v')"
      />
      <TextField id="id-note" v-model="form.note" label="Note" width="wide" :disabled="!mayWrite" />
      <el-button v-if="dirty" type="primary" native-type="submit" :loading="busy"
        >Keep the change</el-button
      >
    </el-form>
    <p v-if="!file.size" class="reading soft">
      No size code: stator volume, peers by size and the drawing wait for measures.
    </p>
    <p v-else class="reading">
      <Figure :value="file.size.diameter_mm" unit="mm" /> ×
      <Figure :value="file.size.height_mm" unit="mm" /> by its code · stator volume
      <Figure :value="file.size.stator_volume_mm3" unit="mm³" :reason="file.size.absent_reason" />
      <span v-if="file.size.absent_reason" class="soft small">{{ file.size.absent_reason }}</span>
    </p>
    <p v-if="file.size?.doubt" class="doubt" role="status">{{ file.size.doubt }}</p>
    <p v-if="problem" class="problem" role="alert">
      {{ sentenceOf(problem) }}
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
