"""Who works in the shop, who may do what, and the record of what was done."""
