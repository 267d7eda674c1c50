<script setup lang="ts">
/** A word of the statement that opens a short list with type-ahead where it stands. */
import { computed, nextTick, ref, useId } from 'vue'
import UiPopover from '@/ui/UiPopover.vue'
import UiTip from '@/ui/UiTip.vue'
import type { ChoicePart, Pick } from '@/figure-model/statement/parts'

const props = defineProps<{ part: ChoicePart; faint?: boolean }>()

const open = ref(false)
const query = ref('')
const active = ref(0)
const input = ref<HTMLInputElement>()
const list = ref<HTMLElement>()
const word = ref<HTMLButtonElement>()
const id = useId()

const shown = computed(() => {
  const wanted = folded(query.value.trim())
  const found = props.part.options.filter(({ label, note = '' }) =>
    folded(`${label} ${note}`).includes(wanted),
  )
  // A label that starts with the letters typed comes first, then one that holds them.
  found.sort((a, b) => standing(b.label, wanted) - standing(a.label, wanted))
  const own = wanted ? props.part.typed?.(wanted) : null
  return own && !found.some(({ label }) => label === own.label) ? [...found, own] : found
})

/** Text as it is compared: any dash is a hyphen, as no key has the others. */
const folded = (text: string): string => text.toLocaleLowerCase().replace(/[‐-―−]/g, '-')

const standing = (label: string, wanted: string): number => {
  const text = folded(label)
  return text.startsWith(wanted) ? 2 : Number(text.includes(wanted))
}

async function opened(now: boolean): Promise<void> {
  if (!now) return
  query.value = ''
  active.value = Math.max(
    0,
    props.part.options.findIndex(({ isChosen }) => isChosen),
  )
  await nextTick()
  // The list is put in place after the next tick; it takes the focus once it is there.
  requestAnimationFrame(() => {
    input.value?.focus()
    show()
  })
}

function show(): void {
  list.value?.querySelector('[aria-selected="true"]')?.scrollIntoView({ block: 'nearest' })
}

function step(by: number): void {
  const count = shown.value.length
  if (count) active.value = (active.value + by + count) % count
  void nextTick(show)
}

function choose(option: Pick | undefined): void {
  if (!option) return
  close()
  option.pick()
}

function close(): void {
  open.value = false
  word.value?.focus()
}

function key(event: KeyboardEvent): void {
  const does: Record<string, () => void> = {
    ArrowDown: () => step(1),
    ArrowUp: () => step(-1),
    Enter: () => choose(shown.value[active.value]),
    Escape: close,
    Tab: close,
  }
  if (!(event.key in does)) return
  event.preventDefault()
  event.stopPropagation()
  does[event.key]()
}
</script>

<template>
  <UiPopover v-model="open" @update:model-value="opened">
    <template #opener="{ props: menu }">
      <button
        ref="word"
        type="button"
        class="word"
        :class="{ 'word--faint': faint }"
        v-bind="part.why ? {} : menu"
        :aria-label="faint ? `${part.text}: ${part.label}` : `${part.label}: ${part.text}`"
        aria-haspopup="listbox"
        :aria-disabled="part.why ? true : undefined"
        :aria-description="part.why"
      >
        {{ part.text }}<UiTip v-if="part.why" :text="part.why" />
      </button>
    </template>
    <div class="popover list">
      <input
        ref="input"
        v-model="query"
        class="list__query"
        role="combobox"
        aria-expanded="true"
        :aria-label="part.label"
        :aria-controls="`${id}-list`"
        :aria-activedescendant="shown.length ? `${id}-${active}` : undefined"
        :placeholder="part.hint ?? 'Type to find'"
        autocomplete="off"
        spellcheck="false"
        @input="active = 0"
        @keydown="key"
      />
      <ul
        :id="`${id}-list`"
        ref="list"
        role="listbox"
        :aria-label="part.label"
        class="plain-list list__options"
      >
        <li
          v-for="(option, i) in shown"
          :id="`${id}-${i}`"
          :key="`${i} ${option.label}`"
          role="option"
          class="option"
          :aria-selected="i === active"
          @pointermove="active = i"
          @click="choose(option)"
        >
          <span class="option__sign" aria-hidden="true">{{ option.sign }}</span>
          <span class="ui-fill">{{ option.label }}</span>
          <span v-if="option.note" class="quiet small">{{ option.note }}</span>
          <span v-if="option.isChosen" class="option__mark" aria-label="chosen">✓</span>
        </li>
        <li v-if="!shown.length" class="option quiet">Nothing of that name</li>
      </ul>
    </div>
  </UiPopover>
</template>

<style scoped>
.list {
  min-width: 220px;
  max-width: 340px;
  overflow: hidden;
}

.list__query {
  width: 100%;
  padding: 8px 12px;
  font: inherit;
  color: var(--ink);
  border-bottom: 1px solid var(--line);
  outline-offset: -2px;
}

.list__query::placeholder {
  color: var(--soft-ink);
  opacity: 1;
}

.list__options {
  padding: 4px;
  max-height: 320px;
  overflow: auto;
}

.option {
  display: flex;
  align-items: baseline;
  gap: 8px;
  padding: 4px 8px;
  border-radius: var(--radius-small);
  cursor: pointer;
}

.option[aria-selected='true'] {
  background: var(--chosen);
}

.option__sign {
  width: 24px;
  color: var(--accent);
  font-size: var(--text-small);
  text-align: center;
  flex: none;
}

.option__mark {
  color: var(--accent);
}
</style>
