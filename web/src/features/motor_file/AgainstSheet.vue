<script setup lang="ts">
/** What the maker claims beside what was measured, with the deviation and what it rests on. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { useSession } from '@/app/useSession'
import { TAGS } from '@/features/intake/words'
import Figure from '@/figures/Figure.vue'
import LoadsAgainst from './LoadsAgainst.vue'

const props = defineProps<{ file: Schemas['MotorFile'] }>()
const { mayWrite } = useSession()
/** Claims that nothing measured stands beside. */
const others = computed(() =>
  props.file.claims.filter(
    (claim) =>
      !props.file.against_claims.some(
        (row) => row.quantity === claim.quantity && row.source === claim.source,
      ),
  ),
)
</script>

<template>
  <section class="sheet">
    <h2>Claimed and measured</h2>
    <p
      v-if="!file.against_claims.length && !others.length && !file.claimed_loads.length"
      class="soft"
    >
      Nothing claimed is on record.
    </p>
    <table v-else-if="file.against_claims.length || others.length" class="grid">
      <thead>
        <tr>
          <th></th>
          <th class="num">Claimed</th>
          <th class="num">Measured</th>
          <th class="num">Deviation, or share of a rating</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in file.against_claims" :key="`${row.quantity} ${row.source}`">
          <td>
            {{ row.label }}
            <div class="soft small">
              {{ row.source }}<template v-if="row.stated_on">, {{ row.stated_on }}</template>
            </div>
          </td>
          <td class="num claim"><Figure :value="row.said" :unit="row.unit" /></td>
          <td class="num">
            <Figure
              :value="row.measured.value"
              :u="row.measured.u"
              :assumed="row.measured.assumed"
              :unit="row.unit"
              :reason="row.measured.reason"
              :estimated="row.measured.origin === 'estimated'"
            />
            <div class="soft small">{{ row.measured_from || row.measured.reason }}</div>
          </td>
          <td class="num">
            <template v-if="row.reached_pct.value !== null">
              <Figure
                :value="row.reached_pct.value"
                :u="row.reached_pct.u"
                :assumed="row.reached_pct.assumed"
                unit="%"
              />
              <div class="small soft">of the rating reached</div>
            </template>
            <Figure
              v-else
              signed
              :value="row.deviation_pct.value"
              :u="row.deviation_pct.u"
              :assumed="row.deviation_pct.assumed"
              unit="%"
              :reason="row.measured.reason"
            />
            <div v-if="row.deviation_pct.value !== null" class="small">
              <span v-if="row.resolved" class="tag caution">differs</span>
              <span v-else class="soft">not told apart</span>
            </div>
          </td>
        </tr>
        <tr v-for="claim in others" :key="claim.id">
          <td>
            {{ claim.label }}
            <div class="soft small">
              {{ claim.source }}<template v-if="claim.stated_on">, {{ claim.stated_on }}</template>
            </div>
          </td>
          <td class="num claim">
            <template v-if="claim.words">{{ claim.words }}</template>
            <Figure v-else :value="claim.value" :unit="claim.unit" />
          </td>
          <td class="num">
            <span class="soft" tabindex="0" data-reason="nothing measures this yet">—</span>
          </td>
          <td></td>
        </tr>
      </tbody>
    </table>
    <LoadsAgainst
      v-if="file.claimed_loads.length"
      :motor="file.motor.id"
      :loads="file.claimed_loads"
    />
    <ul class="remarks">
      <li v-for="(remark, at) in file.remarks" :key="at">
        <span class="tag" :class="TAGS[remark.state]">{{ remark.state }}</span>
        {{ remark.message }}
      </li>
    </ul>
    <p v-if="mayWrite" class="more">
      <RouterLink :to="`/intake/${file.motor.id}/claims`">Write down claims</RouterLink>
    </p>
  </section>
</template>

<style scoped>
.claim {
  border-right: 1px dashed var(--line);
}
.remarks {
  list-style: none;
  padding: 0;
  margin: 10px 0 0;
}
.remarks li {
  display: flex;
  gap: 8px;
  align-items: baseline;
  padding: 2px 0;
  font-size: 13px;
}
.remarks .tag {
  flex: 0 0 64px;
  text-align: center;
}
.more {
  margin: 8px 0 0;
}
</style>
