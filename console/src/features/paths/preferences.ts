/** What a path may be good at, as the service calls it and in words. */
export const preferences = [
  ['fewest-restarts', 'Fewest restarts'],
  ['shortest-dark', 'Shortest dark'],
  ['proven', 'Best proven releases'],
] as const
