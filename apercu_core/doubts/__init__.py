"""What a good colleague would say before you publish: named checks with a finding, a reason and a way on."""
