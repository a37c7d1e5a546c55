-- Which of the paths a plan takes: what it prefers, and which alternative.
alter table plan add column prefer text not null default 'fewest-restarts';
alter table plan add column alternative integer not null default 0;
