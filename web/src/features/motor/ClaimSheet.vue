<script setup lang="ts">
/** What the maker claims, with its source: claims, never measurements. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, type Schemas, sentenceOf } from '@/api/client'
import { claimQuantitiesQuery, refreshRecord } from '@/api/queries'
import { useSession } from '@/app/useSession'
import Figure from '@/figures/Figure.vue'

const props = defineProps<{
  motor: Schemas['Motor']
  claims: Schemas['Claim'][]
  remarks: Schemas['Remark'][]
}>()
const { data: quantities } = useQuery(claimQuantitiesQuery())
const { mayWrite } = useSession()
const client = useQueryClient()
const quantity = ref('max_current_a')
const value = ref('')
const source = ref('box label')
const problem = ref('')
const unit = computed(() => quantities.value?.find((q) => q.key === quantity.value)?.unit ?? '')

async function put() {
  problem.value = ''
  try {
    await api.POST('/api/v1/motors/{id}/claims/', {
      params: { path: { id: props.motor.id } },
      body: {
        quantity: quantity.value as Schemas['QuantityEnum'],
        value: Number(value.value.replace(',', '.')),
        source: source.value,
      },
    })
    value.value = ''
    await refreshRecord(client)
  } catch (error) {
    problem.value = sentenceOf(error)
  }
}

async function remove(claim: Schemas['Claim']) {
  problem.value = ''
  try {
    await api.DELETE('/api/v1/motors/{id}/claims/{claim_pk}/', {
      params: { path: { id: props.motor.id, claim_pk: claim.id } },
    })
    await refreshRecord(client)
  } catch (error) {
    problem.value = sentenceOf(error)
  }
}
</script>

<template>
  <section class="sheet">
    <h2>Claimed <span class="tag claimed">claims, not measurements</span></h2>
    <table class="grid">
      <tbody>
        <tr>
          <td>kV on the label</td>
          <td class="num"><Figure :value="motor.kv_label_rpm_per_v" unit="rpm/V" /></td>
          <td class="soft small">label</td>
          <td></td>
        </tr>
        <tr v-for="claim in claims" :key="claim.id">
          <td>{{ claim.label }}</td>
          <td class="num"><Figure :value="claim.value" :unit="claim.unit" /></td>
          <td class="soft small">{{ claim.source }}</td>
          <td class="num">
            <button v-if="mayWrite" type="button" class="plain" @click="remove(claim)">
              Take off<span class="visually-hidden"> {{ claim.label }}</span>
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-for="remark in remarks" :key="remark.code" class="remark" :class="{ odd: !remark.ok }">
      {{ remark.ok ? 'Fits:' : 'Does not fit:' }} {{ remark.message }}
    </p>
    <form v-if="mayWrite" class="add" @submit.prevent="put">
      <select v-model="quantity" aria-label="Quantity">
        <option v-for="item in quantities" :key="item.key" :value="item.key">
          {{ item.label }}
        </option>
      </select>
      <el-input v-model="value" class="value" inputmode="decimal" aria-label="Claimed value">
        <template #suffix>{{ unit }}</template>
      </el-input>
      <el-input v-model="source" class="source" aria-label="Source of the claim" />
      <el-button native-type="submit" :disabled="!value || !source">Note claim</el-button>
    </form>
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
  </section>
</template>

<style scoped>
.add {
  display: flex;
  gap: 8px;
  margin-top: 10px;
}
.value {
  width: 110px;
}
.source {
  flex: 1;
  min-width: 80px;
}
select {
  height: 32px;
  border: 1px solid var(--el-border-color);
  border-radius: 3px;
  background: var(--el-fill-color-blank);
  min-width: 0;
  width: 150px;
}
.plain {
  border: 0;
  background: none;
  text-decoration: underline;
  color: var(--ink-soft);
  font-size: 12px;
  cursor: pointer;
  min-height: 24px;
}
.remark {
  margin: 8px 0 0;
  padding: 4px 9px;
  font-size: 13px;
  border-left: 3px solid var(--within);
  background: var(--within-soft);
}
.remark.odd {
  border-color: var(--caution);
  background: var(--caution-soft);
}
.problem {
  color: var(--stop);
  margin: 8px 0 0;
}
</style>
