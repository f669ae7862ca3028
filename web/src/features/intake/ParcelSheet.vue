<script setup lang="ts">
/** One parcel: how it was obtained, what it cost, and what lay in the box. */
import { useQueryClient } from '@tanstack/vue-query'
import { api, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { refreshRecord } from '@/api/queries'
import { useSession } from '@/app/useSession'
import MergeView from '@/merging/MergeView.vue'
import { useFactForm } from '@/merging/useFactForm'
import BoxTable from './BoxTable.vue'
import { optional } from './typed'
import { TAGS } from './words'
import { choices } from '@/words/words'

const props = defineProps<{ row: Schemas['ParcelOnFile']; number: number; of: number }>()
const { mayWrite } = useSession()
const client = useQueryClient()

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
    const changed = dataOf(
      await api.PATCH('/api/v1/parcels/{id}/', {
        params: { path: { id: props.row.parcel.id } },
        body: {
          ...values,
          arrived_on: values.arrived_on || null,
          priced_on: values.priced_on || null,
          price_amount: number('price_amount'),
          set_size: values.price_per === 'set' ? number('set_size') : null,
          shipping_amount: values.shipping === 'extra' ? number('shipping_amount') : null,
          version,
        } as Schemas['PatchedParcelFieldsRequest'],
      }),
    )
    await refreshRecord(client)
    return changed.version ?? version
  },
})
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
    <form @submit.prevent="save()">
      <fieldset :disabled="!mayWrite" class="bare">
        <div class="line">
          <div>
            <label :for="`got-${row.parcel.id}`">How it was obtained</label>
            <select :id="`got-${row.parcel.id}`" v-model="form.obtained">
              <option v-for="one in choices('obtained')" :key="one.key" :value="one.key">
                {{ one.label }}
              </option>
            </select>
          </div>
          <div class="wide">
            <label :for="`from-${row.parcel.id}`">From whom</label>
            <input :id="`from-${row.parcel.id}`" v-model="form.obtained_from" maxlength="120" />
          </div>
          <div>
            <label :for="`arrived-${row.parcel.id}`">Arrived on</label>
            <input :id="`arrived-${row.parcel.id}`" v-model="form.arrived_on" type="date" />
            <p class="field-problem">{{ fault('arrived_on') }}</p>
          </div>
          <div class="wide">
            <label :for="`note-${row.parcel.id}`">Note</label>
            <input :id="`note-${row.parcel.id}`" v-model="form.note" />
          </div>
        </div>
        <div class="line">
          <div class="narrow">
            <label :for="`price-${row.parcel.id}`">Price</label>
            <input
              :id="`price-${row.parcel.id}`"
              v-model="form.price_amount"
              class="num"
              inputmode="decimal"
            />
          </div>
          <div class="narrow">
            <label :for="`currency-${row.parcel.id}`">Currency</label>
            <input
              :id="`currency-${row.parcel.id}`"
              v-model="form.price_currency"
              maxlength="3"
              placeholder="EUR"
            />
          </div>
          <div class="narrow">
            <label :for="`per-${row.parcel.id}`">for</label>
            <select :id="`per-${row.parcel.id}`" v-model="form.price_per">
              <option value="each">each</option>
              <option value="set">a set</option>
            </select>
          </div>
          <div v-if="form.price_per === 'set'" class="narrow">
            <label :for="`set-${row.parcel.id}`">Motors in it</label>
            <input :id="`set-${row.parcel.id}`" v-model="form.set_size" class="num" />
          </div>
          <div class="narrow">
            <label :for="`shipping-${row.parcel.id}`">Shipping</label>
            <select :id="`shipping-${row.parcel.id}`" v-model="form.shipping">
              <option v-for="one in choices('shipping')" :key="one.key" :value="one.key">
                {{ one.label }}
              </option>
            </select>
          </div>
          <div v-if="form.shipping === 'extra'" class="narrow">
            <label :for="`extra-${row.parcel.id}`">Shipping paid</label>
            <input :id="`extra-${row.parcel.id}`" v-model="form.shipping_amount" class="num" />
          </div>
          <div class="narrow">
            <label :for="`status-${row.parcel.id}`">Known?</label>
            <select :id="`status-${row.parcel.id}`" v-model="form.price_status">
              <option value="known">known</option>
              <option value="guessed">guessed</option>
            </select>
          </div>
          <div>
            <label :for="`priced-${row.parcel.id}`">Price of</label>
            <input :id="`priced-${row.parcel.id}`" v-model="form.priced_on" type="date" />
            <p class="field-problem">{{ fault('priced_on') }}</p>
          </div>
          <div class="narrow">
            <label :for="`stock-${row.parcel.id}`">To be had</label>
            <select :id="`stock-${row.parcel.id}`" v-model="form.availability">
              <option v-for="one in choices('availability')" :key="one.key" :value="one.key">
                {{ one.label }}
              </option>
            </select>
          </div>
        </div>
        <p class="field-problem">
          {{
            fault('price_amount') ||
            fault('price_currency') ||
            fault('set_size') ||
            fault('shipping_amount')
          }}
        </p>
        <p v-if="problem" class="problem" role="alert">{{ sentenceOf(problem) }}</p>
        <p v-if="mayWrite" class="acts">
          <el-button type="primary" native-type="submit" :disabled="!dirty" :loading="busy"
            >Keep the parcel</el-button
          >
          <span v-if="saved && !dirty" class="soft small" role="status">On record.</span>
          <span v-else-if="dirty" class="soft small">Not on record yet; kept in this browser.</span>
        </p>
      </fieldset>
    </form>
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
          ><template v-if="row.price.guessed">~</template>{{ row.price.amount.toFixed(2)
          }}<span class="unit">{{ row.price.currency }}</span></span
        >, {{ row.price.basis }}</template
      >
      <template v-else><span title="no price on record">—</span> {{ row.price.basis }}</template>
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
.bare {
  border: 0;
  padding: 0;
  margin: 0;
  min-width: 0;
}
.acts {
  display: flex;
  gap: 12px;
  align-items: center;
  margin: 10px 0 0;
}
</style>
