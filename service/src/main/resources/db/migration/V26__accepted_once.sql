-- What was odd about a unit and somebody accepted, a line each: it is not asked again behind the next hop.
alter table run_unit add column accepted text not null default '';
