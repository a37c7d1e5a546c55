-- What somebody plugged into a device, as the device calls it.
alter table device add column medium text not null default '';
