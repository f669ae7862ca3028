<script setup lang="ts">
/** Observations of a sample, in the order of looking, with what was derived from them. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { vocabularyQuery } from '@/api/queries'
import Figure from '@/figures/Figure.vue'
import { answerInWords, suggestionOf } from '@/features/teardown/answers'

const props = defineProps<{ sheet: Schemas['TeardownSheet']; sample: number }>()
const { data: vocabulary } = useQuery(vocabularyQuery())

const rows = computed(() =>
  (vocabulary.value?.attributes ?? []).flatMap((attribute) => {
    const seen = props.sheet.observations.find((o) => o.attribute === attribute.key)
    return seen ? [{ attribute, seen }] : []
  }),
)
</script>

<template>
  <p v-if="!rows.length" class="soft">
    Nothing yet. <RouterLink :to="`/teardown/${sample}`">Begin the teardown</RouterLink>.
  </p>
  <table v-else class="grid">
    <tbody>
      <tr v-for="{ attribute, seen } in rows" :key="attribute.key">
        <td>{{ attribute.label }}</td>
        <td>
          <Figure
            v-if="
              (seen.status === 'measured' || seen.status === 'observed') &&
              seen.value !== null &&
              seen.value !== undefined
            "
            :value="seen.value"
            :u="seen.u"
            :unit="attribute.unit ?? ''"
          />
          <span v-else>{{ answerInWords(attribute, seen) }}</span>
          <div class="soft small">{{ suggestionOf(attribute, seen) }}</div>
        </td>
        <td class="soft small">{{ seen.status.replaceAll('_', ' ') }}</td>
      </tr>
      <tr v-for="finding in sheet.findings" :key="finding.name" class="derived">
        <td>{{ finding.label }}</td>
        <td>
          <Figure
            :value="finding.value"
            :u="finding.u"
            :unit="finding.unit"
            :reason="finding.note"
          />
          <div v-if="finding.value === null" class="soft small">{{ finding.note }}</div>
        </td>
        <td class="soft small">{{ finding.origin || 'derived' }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.derived td {
  background: var(--paper-tint);
}
</style>
