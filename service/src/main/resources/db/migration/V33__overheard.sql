-- What a device said of its own accord on its console line is kept among what was typed and answered.
alter table talk drop constraint talk_direction_check;
alter table talk add constraint talk_direction_check check (direction in ('typed', 'answered', 'overheard'));
