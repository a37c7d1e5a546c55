-- A device may be sent its files by its base.
alter table device add column fed_by text not null default '';
