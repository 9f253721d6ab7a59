-- Leak-down stands on the sheet as a share lost, and no longer in psi held;
-- what a sheet leaves out is taken from its family.
-- +goose Up
UPDATE machines SET sheet = sheet - 'leak_down_psi';
UPDATE jobs SET scenario = jsonb_set(scenario, '{sheet}', (scenario -> 'sheet') - 'leak_down_psi');

-- +goose Down
SELECT 1;
