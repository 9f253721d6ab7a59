package assess

// enough is the share of a skill from which there is nothing to practise first.
const enough = 0.85

// Practise is the skill that was shown least, on the path where it was; false where all
// were shown well enough.
func (a *Assessment) Practise() (Skill, bool) {
	least := Skill{Score: enough}
	for _, s := range a.Skills {
		if s.Score < least.Score {
			least = s
		}
	}
	return least, least.Skill != ""
}
