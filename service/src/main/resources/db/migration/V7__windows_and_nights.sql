-- Groups in which a device stands in for others.
alter table device add column redundancy text not null default '[]';

-- Windows files as they were imported; the newest one holds.
create table windows_file (
    id bigint generated always as identity primary key,
    file_name text not null,
    text text not null,
    imported_at timestamptz not null,
    imported_by text not null
);

-- What people want of a plan's nights, when its first may be, and the nights that came out.
alter table plan add column wishes text not null default '{}';
alter table plan add column begins text not null default 'next-window';
alter table plan add column nights text not null default '';
