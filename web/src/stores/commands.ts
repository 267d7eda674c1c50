/** What can be done on the page, offered by whoever does it for as long as it is there. */
import { computed, onBeforeUnmount, onMounted, shallowReactive } from 'vue'

export interface Act {
  label: string
  /** Other words by which people look for it. */
  find?: string
  /** Why it cannot be done as things stand. */
  why?: string
  does: () => unknown
}

interface Offer {
  where: string
  acts: () => readonly Act[]
}

const offers = shallowReactive(new Set<Offer>())

/** @param where what the acts belong to */
export function offerActs(where: string, acts: Offer['acts']): void {
  const offer = { where, acts }
  onMounted(() => offers.add(offer))
  onBeforeUnmount(() => offers.delete(offer))
}

/** All that is offered now. */
export const offered = computed(() =>
  [...offers].flatMap(({ where, acts }) => acts().map((act) => ({ ...act, where }))),
)
