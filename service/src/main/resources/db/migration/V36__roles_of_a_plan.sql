-- Which member of a unit is active when a plan is carried out: whoever came to be, or who was before.
alter table plan add column roles text not null default 'as-they-come';
