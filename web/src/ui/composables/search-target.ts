/** What is sought: folded parts open for it, and the one that holds it stays open. */
import { inject, provide, type InjectionKey, type Ref } from 'vue'

const SOUGHT: InjectionKey<Ref<string | null>> = Symbol('sought')

/** Marks an element as what is sought. */
export const LIT = 'data-lit'

export const provideSought = (sought: Ref<string | null>): void => provide(SOUGHT, sought)
export const useSought = (): Ref<string | null> | null => inject(SOUGHT, null)
