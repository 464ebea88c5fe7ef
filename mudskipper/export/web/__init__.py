"""What browsers play by themselves: scenes as CSS, as Web Animations and as SVG."""
