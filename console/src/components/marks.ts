import { useState } from 'react'

/** What a person marked in a table, by name, and the way to mark one or to take its mark away. */
export function useMarks(): [ReadonlySet<string>, (name: string) => void] {
  const [marked, setMarked] = useState<ReadonlySet<string>>(new Set())
  const toggle = (name: string) =>
    setMarked((names) => {
      const after = new Set(names)
      if (!after.delete(name)) after.add(name)
      return after
    })
  return [marked, toggle]
}
