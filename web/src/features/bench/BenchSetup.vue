<script setup lang="ts">
/** What to run: motor sample, propeller, supply, stand, plateaus, limits and air. */
import BenchDay from '@/features/rig/BenchDay.vue'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { profileQuery } from '@/api/queries'
import { fieldMessage } from '@/api/client'
import ChoiceField from '@/forms/ChoiceField.vue'
import NumberField from '@/forms/NumberField.vue'
import PropellerField from '@/forms/PropellerField.vue'
import SampleField from '@/forms/SampleField.vue'
import ExpectedRun from './ExpectedRun.vue'
import GearLimits from './GearLimits.vue'
import { canBeOff, type LimitName, limitFields } from './limits'
import { kindOf, playedKinds, profileBody } from './profile'
import NotStarting from './NotStarting.vue'
import ProfileFields from './ProfileFields.vue'
import SavedProfiles from './SavedProfiles.vue'
import SequencePanel from './SequencePanel.vue'
import {
  afterCheck,
  type BenchDraft,
  checkDirection,
  DIRECTION,
  type FaultName,
  faultsOf,
} from './setup'
import WhoseThrottle from './WhoseThrottle.vue'
import { useWhatToRun } from './useWhatToRun'
import { runKind } from '@/words/words'
import { figureText } from '@/figures/format'

const props = defineProps<{ wantedMotor: number | null; disabled: boolean; refusal?: unknown }>()
const draft = defineModel<BenchDraft>({ required: true })
const { takeInHand, supplies, supply, stands, live } = useWhatToRun(draft, () => props.wantedMotor)
const named = (rows: readonly { id: number; name: string }[] | undefined) =>
  (rows ?? []).map((row) => ({ key: row.id, label: row.name }))
const faults = computed(() => faultsOf(draft.value))
/** What the server or the agent said beside a field; gone as soon as something else is typed. */
const said = (name: string) =>
  fieldMessage(props.refusal, name) || fieldMessage(props.refusal, `limits.${name}`)
const faultOf = (name: FaultName) => faults.value[name] ?? said(name)

function setOff(name: LimitName, off: boolean) {
  draft.value.off = off
    ? [...draft.value.off, name]
    : draft.value.off.filter((other) => other !== name)
}

/** What to look at when it does not start. */
const aiding = ref(false)
const kinds = computed(() =>
  playedKinds().map((kind) => ({ key: kind.key, label: kind.label, note: kind.commands })),
)
const kind = computed(() => kindOf(draft.value))
const body = computed(() => profileBody(draft.value))
/** Who may not run anything asks for nothing. */
const { data: course } = useQuery(computed(() => profileQuery(props.disabled ? null : body.value)))
</script>

<template>
  <el-form :disabled="disabled" class="setup" @submit.prevent>
    <p class="note">
      No stand that logs? <RouterLink to="/readings">Type readings</RouterLink> off a scale and a
      meter.
    </p>
    <SampleField
      id="sample"
      v-model="draft.sample"
      label="Motor and sample"
      :disabled="disabled"
      @motor="takeInHand"
    />
    <ChoiceField id="kind" v-model="draft.kind" label="Kind of run" :choices="kinds" />
    <p class="checks">
      <el-button
        v-if="draft.kind !== DIRECTION && kind.needs_propeller"
        size="small"
        @click="checkDirection(draft)"
        >Newly mounted? Check its direction</el-button
      >
      <el-button
        v-else-if="draft.kind === DIRECTION && draft.before_check"
        size="small"
        @click="afterCheck(draft)"
        >Back to {{ runKind(draft.before_check.kind)?.label.toLowerCase() }}</el-button
      >
      <el-button v-if="!disabled" size="small" text @click="aiding = true"
        >It does not start …</el-button
      >
    </p>
    <NotStarting v-model="aiding" :sample="draft.sample" />
    <PropellerField
      v-if="kind.needs_propeller"
      id="propeller"
      v-model="draft.propeller"
      label="Propeller"
    />
    <ChoiceField id="supply" v-model="draft.supply" label="Supply" :choices="named(supplies)" />
    <ChoiceField id="stand" v-model="draft.stand" label="Stand" :choices="named(live)" />
    <p v-if="stands && !live.length" class="note">
      No live stand yet: <RouterLink to="/rig">add one in the rig</RouterLink>.
    </p>
    <WhoseThrottle v-model="draft" :disabled="disabled" />
    <SavedProfiles v-model="draft" :disabled="disabled" />
    <SequencePanel v-model="draft" :disabled="disabled" />
    <ProfileFields v-model="draft" :course="course" :said="said" />
    <ChoiceField
      id="repeats"
      v-model="draft.repeats"
      label="Make it"
      :choices="[1, 2, 3, 4, 5].map((n) => ({ key: n, label: n === 1 ? 'once' : `${n} times` }))"
    />
    <p class="note">
      Each is armed by itself. Runs that agree well stop it earlier; three that do not ask for a
      fourth.
    </p>
    <h2 id="cut-at">{{ draft.by_hand ? 'Warn at' : 'Cut at' }}</h2>
    <div class="limits" role="group" aria-labelledby="cut-at">
      <NumberField
        v-for="limit in limitFields()"
        :key="limit.name"
        v-model="draft.limits[limit.name]"
        inline
        :label="limit.label"
        :unit="limit.unit"
        :within="limit.within"
        :disabled="draft.off.includes(limit.name)"
        :problem="faultOf(limit.name)"
      >
        <el-checkbox
          v-if="canBeOff(limit.name)"
          size="small"
          :model-value="draft.off.includes(limit.name)"
          :aria-label="`${limit.label}: no limit`"
          @update:model-value="(on: unknown) => setOff(limit.name, Boolean(on))"
          >off</el-checkbox
        >
        <span v-else class="always">always</span>
      </NumberField>
    </div>
    <el-checkbox v-if="!draft.by_hand" v-model="draft.guarded" size="small" class="guard"
      >and end before a step that is foreseen to pass a limit</el-checkbox
    >
    <GearLimits
      :sample="draft.sample"
      :supply="draft.supply"
      :stand="draft.stand"
      :limits="draft.limits"
    />
    <ExpectedRun
      :sample="draft.sample"
      :propeller="draft.propeller"
      :supply="draft.supply"
      :kind="draft.kind"
      :needs-propeller="kind.needs_propeller"
      :highest_pct="course?.highest_pct ?? null"
      :limits="draft.limits"
      :off="draft.off"
    />
    <p v-if="supply" class="note">
      {{
        supply.cells && supply.floor_v
          ? `A pack of ${supply.cells} cells is not run below ${figureText(supply.floor_v).value} V.`
          : 'A supply that folds back shows below its floor.'
      }}
    </p>
    <ChoiceField
      id="grace"
      v-model="draft.page_grace_s"
      label="Without a page that could stop it, the run ends after"
      :choices="[2, 5, 10].map((s) => ({ key: s, label: `${s} s` }))"
    />
    <h2>Air</h2>
    <BenchDay class="note" />
    <p class="note">What is left empty here is taken from the bench day.</p>
    <div class="row">
      <NumberField v-model="draft.air_temp_c" label="°C" :problem="faultOf('air_temp_c')" />
      <NumberField
        v-model="draft.air_pressure_hpa"
        label="hPa"
        :problem="faultOf('air_pressure_hpa')"
      />
      <NumberField
        v-model="draft.air_humidity_pct"
        label="% RH"
        :problem="faultOf('air_humidity_pct')"
      />
    </div>
  </el-form>
</template>

<style scoped>
.checks {
  display: flex;
  flex-wrap: wrap;
  margin: 4px 0 0;
}
.note :deep(a) {
  color: var(--dark-copper-light);
}
.setup :deep(.field-row) {
  margin-top: 7px;
}
h2 {
  margin: 12px 0 0;
  font-size: 14px;
}
.row {
  display: flex;
  gap: 10px;
}
.row > * {
  flex: 1;
  min-width: 0;
}
.limits {
  display: grid;
  gap: 3px;
  margin-top: 4px;
}
.guard {
  height: auto;
  min-height: 28px;
  white-space: normal;
}
.always {
  font-size: 12px;
  width: 52px;
}
.note {
  font-size: 12.5px;
  color: var(--dark-soft);
  margin: 4px 0 0;
}
</style>
