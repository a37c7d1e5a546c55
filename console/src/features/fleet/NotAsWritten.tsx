import { Button, TextInput } from '@mantine/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, body, type Device } from '../../api/client'
import { Trouble } from '../../components/Page'

/** What the inventory says of a device and the device says otherwise, and the word that takes it over. */
export function NotAsWritten({ device }: { device: Device }) {
  const queries = useQueryClient()
  const [why, setWhy] = useState('')
  const takeOver = useMutation({
    mutationFn: () =>
      body(
        api.POST('/api/devices/{name}/as-read', {
          params: { path: { name: device.name } },
          body: { why },
        }),
      ),
    onSuccess: () => queries.invalidateQueries(),
  })
  return (
    <section className="card stop" aria-label="Not as written">
      <b>■ The inventory describes another box than the one that answers.</b>
      <table className="plain">
        <thead>
          <tr>
            <th />
            <th>written</th>
            <th>shown by the device</th>
          </tr>
        </thead>
        <tbody>
          {device.discrepancies.map((one) => (
            <tr key={one.what}>
              <td className="quiet">{one.what}</td>
              <td className="mono">{one.written}</td>
              <td className="mono">{one.shown}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p>
        No plan touches it until one of them is mended: an image for the one can spoil the other.
        Where the device is right, take over what it shows; else correct the inventory or its
        address.
      </p>
      <div className="asks">
        <TextInput
          aria-label={`Why ${device.name} is taken over as read`}
          placeholder="reason, kept in the trail"
          value={why}
          onChange={(e) => setWhy(e.currentTarget.value)}
          w={260}
        />
        <Button variant="outline" loading={takeOver.isPending} onClick={() => takeOver.mutate()}>
          Take over what was read
        </Button>
      </div>
      <Trouble error={takeOver.error} />
    </section>
  )
}
