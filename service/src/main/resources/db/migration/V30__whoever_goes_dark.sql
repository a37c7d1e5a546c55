-- Sites that lose the network, or a part of it, while a unit of a run is dark: their contacts are told as well.
create table unit_reach (
    unit_id bigint not null references run_unit (id) on delete cascade,
    site text not null,
    devices text not null,
    serves text not null,
    primary key (unit_id, site)
);

-- When each site's nights of a plan begin, as many as there ever were: a night that is not planned any more is cancelled in a calendar.
alter table plan add column site_nights text not null default '{}';

-- What was moved is told each time; before and after, once.
alter table site_mail drop constraint site_mail_occasion_check;
alter table site_mail drop constraint site_mail_run_id_site_occasion_key;
alter table site_mail add check (occasion in ('before', 'moved', 'after'));
create unique index on site_mail (run_id, site, occasion) where occasion <> 'moved';
