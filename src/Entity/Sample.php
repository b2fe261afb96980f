<?php

namespace Pestle\App\Entity;

use Doctrine\ORM\Mapping as ORM;
use Pestle\Core\Audio\WaveOverview;

/** A recording in the library, named by the hash of its original, with what Pestle found out about it. */
#[ORM\Entity]
#[ORM\Table(name: 'sample')]
class Sample
{
    private const LEAST_CONFIDENCE = 0.12;
    private ?WaveOverview $wave = null;

    /**
     * @param list<int> $onsets frames, found at middle sensitivity
     * @param string    $note   repairs and conversions, in words
     */
    public function __construct(
        #[ORM\Id]
        #[ORM\Column(length: 64)]
        public readonly string $hash,
        #[ORM\Column(length: 120)]
        public string $name,
        #[ORM\Column]
        public readonly int $frames,
        #[ORM\Column]
        public readonly int $rate,
        #[ORM\Column]
        public readonly int $channels,
        #[ORM\Column(length: 20)]
        public readonly string $format,
        #[ORM\Column]
        public readonly float $peakDb,
        #[ORM\Column(nullable: true)]
        public readonly ?float $bpm,
        #[ORM\Column(nullable: true)]
        public readonly ?int $bars,
        #[ORM\Column]
        public readonly float $confidence,
        #[ORM\Column(type: 'json')]
        public readonly array $onsets,
        #[ORM\Column(type: 'blob')]
        private mixed $overview,
        #[ORM\Column(length: 300)]
        public readonly string $note,
        #[ORM\Column]
        public readonly \DateTimeImmutable $addedAt = new \DateTimeImmutable(),
    ) {
    }

    public function seconds(): float
    {
        return $this->frames / $this->rate;
    }

    public function wave(): WaveOverview
    {
        if (null === $this->wave) {
            $bytes = \is_resource($this->overview) ? (string) stream_get_contents($this->overview, -1, 0) : $this->overview;
            $this->wave = WaveOverview::decode(\is_string($bytes) ? $bytes : '');
        }

        return $this->wave;
    }

    /** Long, and rhythmic enough that its tempo is more than chance. */
    public function isLoop(): bool
    {
        return null !== $this->bpm && $this->confidence >= self::LEAST_CONFIDENCE && $this->seconds() > 1.5 && \count($this->onsets) >= 4;
    }

    /** The middle of "86 BPM · 4 bars". */
    public function tempoLabel(): ?string
    {
        return $this->isLoop() ? \sprintf('%s BPM', round((float) $this->bpm, 1)) : null;
    }
}
