-- What a run keeps to: when each part of a unit's path is begun, who it is never in work with, how many may be.
alter table run add column limits text not null default '';
alter table run_unit add column turns text not null default '[]';
alter table run_unit add column begun integer not null default 0;
alter table run_unit add column in_work boolean not null default false;
alter table run_unit add column beside text not null default '';
alter table run_unit add column waits_for text not null default '';

-- A rehearsal is a run against stand-ins: it holds no device, and nothing of it counts as what a device did.
alter table run add column rehearsal boolean not null default false;
create table rehearsal (
    id bigint generated always as identity primary key,
    plan_id bigint not null references plan,
    number integer not null,
    plan_sha256 text not null,
    state text not null check (state in ('under-way', 'finished', 'cancelled', 'broken')),
    asked text not null,
    pace integer not null,
    started_by text not null,
    started_at timestamptz not null,
    finished_at timestamptz,
    outcome text not null default '',
    job_id bigint not null,
    unique (plan_id, number)
);
