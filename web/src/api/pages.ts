/** Lists that the server gives in pages, read whole. */
export const ALL = { page_size: 500 }

interface Page<T> {
  count: number
  next?: string | null
  results: T[]
}

/** Every row of a list, page after page: a large bench has more than fit the largest page. */
export async function everyPage<T>(read: (page: number) => Promise<Page<T>>): Promise<T[]> {
  const first = await read(1)
  const more = first.next ? Math.ceil(first.count / ALL.page_size) - 1 : 0
  const rest = await Promise.all(Array.from({ length: more }, (_, at) => read(at + 2)))
  return [first, ...rest].flatMap((page) => page.results)
}
