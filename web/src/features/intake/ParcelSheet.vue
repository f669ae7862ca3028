<script setup lang="ts">
/** One parcel: how it was obtained, what it cost, and what lay in the box. */
import { api, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import ChoiceField from '@/forms/ChoiceField.vue'
import DayField from '@/forms/DayField.vue'
import NumberField from '@/forms/NumberField.vue'
import TextField from '@/forms/TextField.vue'
import MergeView from '@/merging/MergeView.vue'
import { useFactForm } from '@/merging/useFactForm'
import BoxTable from './BoxTable.vue'
import { optional } from './typed'
import { TAGS } from './words'
import { choices } from '@/words/words'
import { formatNumber } from '@/figures/format'

const props = defineProps<{ row: Schemas['ParcelOnFile']; number: number; of: number }>()
const { mayWrite } = useSession()

const change = useWrite('motor', async (body: Schemas['PatchedParcelFieldsRequest']) =>
  dataOf(
    await api.PATCH('/api/v1/parcels/{id}/', {
      params: { path: { id: props.row.parcel.id } },
      body,
    }),
  ),
)
const text = (value: number | null | undefined) => (value == null ? '' : String(value))
const { form, base, dirty, problem, conflict, busy, saved, save, drop } = useFactForm({
  key: () => `parcel-${props.row.parcel.id}`,
  stored: () => {
    const p = props.row.parcel
    return {
      version: p.version ?? 1,
      values: {
        obtained: p.obtained ?? 'unknown',
        obtained_from: p.obtained_from ?? '',
        arrived_on: p.arrived_on ?? '',
        price_amount: text(p.price_amount),
        price_currency: p.price_currency ?? '',
        price_per: p.price_per ?? 'each',
        set_size: text(p.set_size),
        shipping: p.shipping ?? 'unknown',
        shipping_amount: text(p.shipping_amount),
        price_status: p.price_status ?? 'known',
        priced_on: p.priced_on ?? '',
        availability: p.availability ?? 'unknown',
        note: p.note ?? '',
      },
    }
  },
  write: async (values, version) => {
    const number = (field: string) => {
      const typed = values[field as keyof typeof values]
      return optional(typed == null ? '' : String(typed)) ?? (typed ? Number.NaN : null)
    }
    const changed = await change.sendOrThrow({
      ...values,
      arrived_on: values.arrived_on || null,
      priced_on: values.priced_on || null,
      price_amount: number('price_amount'),
      set_size: values.price_per === 'set' ? number('set_size') : null,
      shipping_amount: values.shipping === 'extra' ? number('shipping_amount') : null,
      version,
    } as Schemas['PatchedParcelFieldsRequest'])
    return changed.version ?? version
  },
})
const PER = [
  { key: 'each', label: 'each' },
  { key: 'set', label: 'a set' },
]
const KNOWN = [
  { key: 'known', label: 'known' },
  { key: 'guessed', label: 'guessed' },
]
const fault = (field: string) => fieldMessage(problem.value, field)
</script>

<template>
  <section class="sheet">
    <h2>
      Parcel {{ of > 1 ? number : '' }}
      <span class="soft">{{
        row.samples.length ? `with sample ${row.samples.join(', ')}` : 'without a sample'
      }}</span>
    </h2>
    <el-form :disabled="!mayWrite" @submit.prevent="save()">
      <div class="line">
        <ChoiceField
          :id="`got-${row.parcel.id}`"
          v-model="form.obtained"
          label="How it was obtained"
          :choices="choices('obtained')"
        />
        <TextField
          :id="`from-${row.parcel.id}`"
          v-model="form.obtained_from"
          label="From whom"
          width="wide"
          :maxlength="120"
        />
        <DayField
          :id="`arrived-${row.parcel.id}`"
          v-model="form.arrived_on"
          label="Arrived on"
          :problem="fault('arrived_on')"
        />
        <TextField :id="`note-${row.parcel.id}`" v-model="form.note" label="Note" width="wide" />
      </div>
      <div class="line">
        <NumberField
          :id="`price-${row.parcel.id}`"
          v-model="form.price_amount"
          label="Price"
          :problem="fault('price_amount')"
        />
        <TextField
          :id="`currency-${row.parcel.id}`"
          v-model="form.price_currency"
          label="Currency"
          placeholder="EUR"
          width="narrow"
          :maxlength="3"
          :problem="fault('price_currency')"
        />
        <ChoiceField
          :id="`per-${row.parcel.id}`"
          v-model="form.price_per"
          label="for"
          width="narrow"
          :choices="PER"
        />
        <NumberField
          v-if="form.price_per === 'set'"
          :id="`set-${row.parcel.id}`"
          v-model="form.set_size"
          label="Motors in it"
          :problem="fault('set_size')"
        />
        <ChoiceField
          :id="`shipping-${row.parcel.id}`"
          v-model="form.shipping"
          label="Shipping"
          width="narrow"
          :choices="choices('shipping')"
        />
        <NumberField
          v-if="form.shipping === 'extra'"
          :id="`extra-${row.parcel.id}`"
          v-model="form.shipping_amount"
          label="Shipping paid"
          :problem="fault('shipping_amount')"
        />
        <ChoiceField
          :id="`status-${row.parcel.id}`"
          v-model="form.price_status"
          label="Known?"
          width="narrow"
          :choices="KNOWN"
        />
        <DayField
          :id="`priced-${row.parcel.id}`"
          v-model="form.priced_on"
          label="Price of"
          :problem="fault('priced_on')"
        />
        <ChoiceField
          :id="`stock-${row.parcel.id}`"
          v-model="form.availability"
          label="To be had"
          :choices="choices('availability')"
        />
      </div>
      <p v-if="problem" class="problem" role="alert">{{ sentenceOf(problem) }}</p>
      <p v-if="mayWrite" class="acts">
        <el-button type="primary" native-type="submit" :disabled="!dirty" :loading="busy"
          >Keep the parcel</el-button
        >
        <span v-if="saved && !dirty" class="soft small" role="status">On record.</span>
        <span v-else-if="dirty" class="soft small">Not on record yet; kept in this browser.</span>
      </p>
    </el-form>
    <MergeView
      v-if="conflict"
      :base="base"
      :mine="form"
      :current="conflict"
      @settle="(values, version) => save(values as typeof form, version)"
      @drop="drop"
    />
    <p class="reading">
      One motor:
      <template v-if="row.price.amount !== null"
        ><span class="figure" :class="{ estimated: row.price.guessed }"
          ><template v-if="row.price.guessed">~</template>{{ formatNumber(row.price.amount, 2)
          }}<span class="unit">{{ row.price.currency }}</span></span
        >, {{ row.price.basis }}</template
      >
      <template v-else
        ><span tabindex="0" data-reason="no price on record">—</span>
        {{ row.price.basis }}</template
      >
    </p>
    <h3>In the box</h3>
    <BoxTable :parcel="row.parcel" />
    <h3>Enough to build with?</h3>
    <ul class="findings">
      <li v-for="(finding, at) in row.findings" :key="at">
        <span class="tag" :class="TAGS[finding.state]">{{ finding.state }}</span>
        {{ finding.message }}
      </li>
    </ul>
  </section>
</template>

<style scoped src="./intake.css"></style>
<style scoped>
.acts {
  display: flex;
  gap: 12px;
  align-items: center;
  margin: 10px 0 0;
}
</style>
