import { Link } from 'react-router'
import type { PathAnswer } from '../../api/client'

/** What stands in the way, and how far it gets today. */
export function Refused({ answer }: { answer: PathAnswer }) {
  const one = answer.obstacles.length === 1
  return (
    <div className="card stop" role="alert">
      <h3>■ {one ? 'One thing stands' : `${answer.obstacles.length} things stand`} in the way</h3>
      {answer.obstacles.map((obstacle) => (
        <p key={obstacle} style={{ margin: '4px 0' }}>
          {obstacle}.
        </p>
      ))}
      <p style={{ margin: '8px 0 0' }}>
        {answer.highestReachable ? (
          <>
            It can reach{' '}
            <Link
              to={`/paths?device=${answer.device}&to=${encodeURIComponent(answer.highestReachable)}`}
              className="mono"
            >
              {answer.highestReachable}
            </Link>{' '}
            today.
          </>
        ) : (
          'Nothing newer can be reached today.'
        )}
      </p>
    </div>
  )
}

/** Every reason and every caveat in full, in the order of the hops. */
export function ToKnow({ answer }: { answer: PathAnswer }) {
  const hops = (answer.best?.hops ?? []).map((hop, i) => ({
    hop,
    number: i + 1,
    key: `${hop.component} ${hop.to}`,
  }))
  return (
    <ul className="toknow">
      {hops.flatMap(({ hop, number, key }) => [
        ...hop.why.map((why) => (
          <li key={`${key} ${why.rule}`}>
            Hop {number} is there because {why.sentence}{' '}
            <span className="quiet mono">{why.rule}</span>{' '}
            <span className="quiet">{why.source}</span>
          </li>
        )),
        ...hop.lookAlikes.map((other) => (
          <li key={`${key} ${other}`} className="quiet">
            Hop {number} takes{' '}
            <span className="mono">{hop.images.map((image) => image.fileName).join(', ')}</span>,
            not {other}.
          </li>
        )),
        ...hop.brings.map((brought) => (
          <li key={`${key} ${brought}`}>
            With hop {number} comes {brought}, in the same file.
          </li>
        )),
        ...hop.toKnow.map((know) => (
          <li key={`${key} ${know}`} className="caution">
            ▲ {hop.to}: {know}.
          </li>
        )),
      ])}
    </ul>
  )
}
