/** What can be said of a chosen file before it is sent. */
import { fileSize } from '@/figures/format'
export const LARGEST_BYTES = 12_000_000

/** Why a file will not be taken, in words; empty when it may be. The server looks at its content. */
export function photoFault(file: { size: number; type: string }): string {
  if (file.size === 0) return 'The file is empty.'
  if (file.size > LARGEST_BYTES)
    return `This picture has ${fileSize(file.size)}; a photo may have 12 MB.`
  if (file.type && !file.type.startsWith('image/')) return 'This is not a picture.'
  return ''
}
