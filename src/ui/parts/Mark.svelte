<!-- The workshop's mark: a curtain parted over a light. -->
<svg width="20" height="20" viewBox="0 0 20 20" aria-hidden="true">
  <path fill="var(--ink)" d="M1 2h18l-2 3v13l-4-3-3 4-3-4-4 3V5z" />
  <path fill="var(--limelight)" d="M10 6l2 5-2 6-2-6z" />
</svg>
