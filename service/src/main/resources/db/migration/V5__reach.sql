-- What a device is joined with, and whether services sit at it.
alter table device add column links text not null default '[]';
alter table device add column root boolean not null default false;
