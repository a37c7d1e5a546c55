-- What people said about a device, over all runs and outside of them, for its history.
create index event_said_about on event (subject) where who <> 'calm-step';
