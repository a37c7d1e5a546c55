-- The devices that a plan was drafted for, so that it can be worked out again.
alter table plan add column devices text not null default '[]';
