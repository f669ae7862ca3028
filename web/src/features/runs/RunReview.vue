<script setup lang="ts">
/** Accept or reject a run; rejecting needs a reason. */
import { ref } from 'vue'
import { api, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'

const props = defineProps<{ run: Schemas['RunDetail'] }>()
const { mayWrite } = useSession()
const reason = ref('')
const reviewing = useWrite('run', (body: Schemas['PatchedReviewRequest']) =>
  api.PATCH('/api/v1/runs/{id}/', { params: { path: { id: props.run.id } }, body }),
)
const say = (review: 'accepted' | 'rejected' | '') =>
  reviewing.send({
    review,
    review_reason: review === 'rejected' ? reason.value : '',
    version: props.run.version,
  })
</script>

<template>
  <div class="review">
    <template v-if="run.review">
      <span class="tag" :class="run.review === 'accepted' ? 'within' : 'over'">{{
        run.review
      }}</span>
      <span v-if="run.review_reason">{{ run.review_reason }}</span>
      <el-button v-if="mayWrite" size="small" @click="say('')">Take back</el-button>
    </template>
    <template v-else-if="mayWrite">
      <el-button size="small" type="primary" @click="say('accepted')">Accept</el-button>
      <el-input
        v-model="reason"
        size="small"
        class="reason"
        placeholder="Why reject it?"
        aria-label="Reason to reject"
      />
      <el-button size="small" :disabled="!reason.trim()" @click="say('rejected')">Reject</el-button>
    </template>
    <span v-else class="tag caution">not reviewed yet</span>
    <span v-if="reviewing.problem.value" role="alert" class="problem">{{
      sentenceOf(reviewing.problem.value)
    }}</span>
  </div>
</template>

<style scoped>
.review {
  display: flex;
  gap: 8px;
  align-items: center;
  flex-wrap: wrap;
}
.reason {
  width: 200px;
}
.problem {
  color: var(--stop);
}
</style>
