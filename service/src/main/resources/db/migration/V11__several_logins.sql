-- A device may be opened by several logins, tried in their order; refusals are kept so that no try of ours locks us out.
alter table device add logins text not null default '[]';
update device set logins = json_build_array(login)::text;
alter table device drop column login;
alter table device add let_in text not null default '';
create table sign_in_refusal (
    id bigint generated always as identity primary key,
    device_id bigint not null references device(id) on delete cascade,
    login text not null,
    at timestamptz not null
);
create index sign_in_refusal_of_device on sign_in_refusal (device_id, at);
-- How a device is reached where it is not simply there, and the host keys of what is passed on the way.
alter table device add via text not null default '[]';
alter table device add console text not null default '';
alter table device add old_algorithms text not null default '[]';
create table stop_key (
    place text primary key,
    fingerprint text not null,
    seen_at timestamptz not null
);
