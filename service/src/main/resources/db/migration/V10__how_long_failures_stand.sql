-- How long failures of a job stood before a person had it go on: for outlooks, kept when the runs
-- are gone. Added, so that the version before can go on working until it is stopped.
alter table job_history add column if not exists recoveries text not null default '';
