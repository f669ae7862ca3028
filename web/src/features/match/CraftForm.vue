<script setup lang="ts">
/** A craft: what flies, its pack, its room, what it carries now. */
import { computed, reactive } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { suppliesQuery } from '@/api/rigQueries'
import { useWrite } from '@/api/useWrite'
import ChoiceField from '@/forms/ChoiceField.vue'
import FieldRow from '@/forms/FieldRow.vue'
import MotorField from '@/forms/MotorField.vue'
import NumberField from '@/forms/NumberField.vue'
import PropellerField from '@/forms/PropellerField.vue'
import TextField from '@/forms/TextField.vue'
import { choices } from '@/words/words'
import {
  bodyOf,
  type Craft,
  type CraftBody,
  draftOf,
  massOf,
  newDraft,
  newItem,
  packsOf,
  takePack,
} from './craft'
import { count } from '@/figures/format'

const props = defineProps<{ craft: Craft | null; copy: boolean }>()
const emit = defineEmits<{ kept: [id: number]; close: [] }>()
const draft = reactive(props.craft ? draftOf(props.craft, props.copy) : newDraft())
const { data: supplies } = useQuery(suppliesQuery())
const packs = computed(() => packsOf(supplies.value ?? []))
const packWords = (one: Schemas['Supply']) =>
  `${one.name}: ${one.cells} cells, ${count(one.capacity_mah ?? 0)} mAh${one.rate_c ? `, ${one.rate_c} C` : ''}`
function take(id: number) {
  const pack = packs.value.find((one) => one.id === id)
  if (pack) takePack(draft, pack)
}
const made = computed(() => bodyOf(draft))
const mass = computed(() => massOf(draft))
const changing = computed(() => (props.craft && !props.copy ? props.craft : null))
const heading = computed(() => {
  if (changing.value) return 'Change the craft'
  return props.copy ? 'A copy, with something changed' : 'A new craft'
})
const saving = useWrite('craft', async (body: CraftBody) =>
  dataOf(
    changing.value
      ? await api.PATCH('/api/v1/craft/{id}/', {
          params: { path: { id: changing.value.id } },
          body: { ...body, version: changing.value.version },
        })
      : await api.POST('/api/v1/craft/', { body }),
  ),
)
async function keep() {
  if (!made.value.body) return
  const kept = await saving.send(made.value.body)
  if (kept) emit('kept', kept.id)
}
const said = (name: string) => fieldMessage(saving.problem.value, name)
const BASES = choices('mass_basis')
</script>

<template>
  <section class="sheet" :aria-label="heading">
    <h2>{{ heading }}</h2>
    <form @submit.prevent="keep">
      <div class="fields">
        <TextField v-model="draft.name" label="Name" :problem="said('name')" />
        <ChoiceField
          id="craft-layout"
          v-model="draft.layout"
          label="Kind"
          :choices="choices('layout') as { key: typeof draft.layout; label: string }[]"
          :problem="said('layout')"
        />
        <ChoiceField
          id="craft-use"
          v-model="draft.use"
          label="Use"
          :choices="choices('use') as { key: typeof draft.use; label: string }[]"
        />
        <NumberField v-model="draft.numbers.motors" label="Motors" :problem="said('motors')" />
        <FieldRow v-if="packs.length" for="craft-pack" label="A pack of the rig">
          <el-select
            id="craft-pack"
            :model-value="undefined"
            filterable
            default-first-option
            placeholder="takes its figures"
            @update:model-value="take(Number($event))"
          >
            <el-option v-for="one in packs" :key="one.id" :value="one.id" :label="packWords(one)" />
          </el-select>
        </FieldRow>
        <NumberField v-model="draft.numbers.cells" label="Cells" :problem="said('cells')" />
        <NumberField
          v-model="draft.numbers.capacity_mah"
          label="Capacity"
          unit="mAh"
          :problem="said('capacity_mah')"
        />
        <NumberField
          v-model="draft.numbers.rated_c"
          label="C-rate of the pack"
          placeholder="not known"
          :problem="said('rated_c')"
        />
        <NumberField
          v-model="draft.numbers.usable_pct"
          label="Flown of it"
          unit="%"
          :problem="said('usable_pct')"
        />
      </div>
      <h3>What flies, without the motors</h3>
      <table class="grid items">
        <thead>
          <tr>
            <th scope="col">Item</th>
            <th scope="col">How many</th>
            <th scope="col">Mass of one, g</th>
            <th scope="col">Is</th>
            <th scope="col">May be off by, g</th>
            <th scope="col"><span class="visually-hidden">Take away</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(item, index) in draft.items" :key="index">
            <td><el-input v-model="item.name" size="small" :aria-label="`Item ${index + 1}`" /></td>
            <td class="short">
              <el-input
                v-model="item.count"
                size="small"
                inputmode="numeric"
                :aria-label="`How many of item ${index + 1}`"
              />
            </td>
            <td class="short">
              <el-input
                v-model="item.mass_g"
                size="small"
                inputmode="decimal"
                :aria-label="`Mass of item ${index + 1}, g`"
              />
            </td>
            <td>
              <el-select
                v-model="item.basis"
                size="small"
                :aria-label="`Mass of item ${index + 1} is`"
              >
                <el-option
                  v-for="one in BASES"
                  :key="one.key"
                  :value="one.key"
                  :label="one.label"
                />
              </el-select>
            </td>
            <td class="short">
              <el-input
                v-model="item.half_width_g"
                size="small"
                inputmode="decimal"
                placeholder="usual"
                :aria-label="`Item ${index + 1} may be off by, g`"
              />
            </td>
            <td>
              <el-button
                size="small"
                text
                :aria-label="`Take item ${index + 1} away`"
                @click="draft.items.splice(index, 1)"
                >×</el-button
              >
            </td>
          </tr>
        </tbody>
      </table>
      <p class="small soft">
        <el-button size="small" text @click="draft.items.push(newItem())">Another item</el-button>
        <template v-if="mass !== null">{{ count(mass) }} g without motors. </template>
        A claimed mass counts ±5 %, a guess ±50 %, unless you say how far it may be off.
      </p>
      <p v-if="said('items')" class="problem" role="alert">{{ said('items') }}</p>
      <h3>Limits; what is left open is none</h3>
      <div class="fields">
        <NumberField
          v-model="draft.numbers.propeller_room_in"
          label="Room for propellers up to"
          unit="in"
          placeholder="any"
          :problem="said('propeller_room_in')"
        />
        <NumberField
          v-model="draft.numbers.esc_rated_a"
          label="Its ESC bears"
          unit="A"
          placeholder="any"
          :problem="said('esc_rated_a')"
        />
        <NumberField
          v-model="draft.numbers.least_thrust_to_weight"
          label="Least thrust-to-weight"
          placeholder="of the use"
          :problem="said('least_thrust_to_weight')"
        />
        <NumberField
          v-model="draft.numbers.arm_mm"
          label="Motor from the middle"
          unit="mm"
          placeholder="not known"
          :problem="said('arm_mm')"
        />
        <template v-if="draft.layout === 'plane'">
          <NumberField
            v-model="draft.numbers.lift_to_drag"
            label="Lift-to-drag"
            placeholder="not known"
            :problem="said('lift_to_drag')"
          />
          <NumberField
            v-model="draft.numbers.cruise_throttle_pct"
            label="Or cruise throttle"
            unit="%"
            placeholder="not known"
            :problem="said('cruise_throttle_pct')"
          />
        </template>
        <NumberField
          v-model="draft.numbers.flight_speed_m_per_s"
          label="Flight speed"
          unit="m/s"
          placeholder="not known"
          :problem="said('flight_speed_m_per_s')"
        />
        <NumberField
          v-model="draft.numbers.less_current_from_pct"
          label="In flight less current, from"
          unit="%"
          placeholder="no rule"
          :problem="said('less_current_from_pct')"
        />
        <NumberField
          v-model="draft.numbers.less_current_to_pct"
          label="to"
          unit="%"
          placeholder="no rule"
          :problem="said('less_current_to_pct')"
        />
      </div>
      <div class="fields">
        <MotorField
          id="carries-motor"
          v-model="draft.carries_motor"
          label="Carries now: motor"
          width="wide"
          :problem="said('carries_motor')"
        />
        <PropellerField
          id="carries-propeller"
          v-model="draft.carries_propeller"
          label="Carries now: propeller"
          :problem="said('carries_propeller')"
        />
        <template v-if="draft.layout === 'coaxial'">
          <MotorField
            id="lower-motor"
            v-model="draft.lower_motor"
            label="Lower motor, where it differs"
            width="wide"
            :problem="said('lower_motor')"
          />
          <PropellerField
            id="lower-propeller"
            v-model="draft.lower_propeller"
            label="Lower propeller"
            :problem="said('lower_propeller')"
          />
        </template>
      </div>
      <p v-if="made.gaps.length" class="small soft">{{ made.gaps.join('. ') }}.</p>
      <p v-if="saving.problem.value" class="problem" role="alert">
        {{ sentenceOf(saving.problem.value) }}
      </p>
      <el-button
        type="primary"
        native-type="submit"
        :disabled="!made.body"
        :loading="saving.busy.value"
        >{{ changing ? 'Keep the change' : 'Keep the craft' }}</el-button
      >
      <el-button text @click="emit('close')">Cancel</el-button>
    </form>
  </section>
</template>

<style scoped>
.fields {
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: 6px 14px;
  margin: 6px 0;
}
.items .el-select {
  width: 112px;
}
h3 {
  margin: 10px 0 4px;
}
.items {
  max-width: 760px;
}
.items .short {
  width: 110px;
}
.problem {
  color: var(--stop);
}
</style>
