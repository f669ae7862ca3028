/** Before every file of tests: the words that pages are given after logging in. */
import words from './words.json'
import { tell, type Words } from '@/words/words'

tell(words as Words)
