<?php

namespace Pestle\App\Entity;

use Doctrine\ORM\Mapping as ORM;
use Pestle\Core\Audio\WaveOverview;
use Pestle\Core\Kit\Role;
use Pestle\Core\Sample\BeatGrid;
use Pestle\Core\Sample\Description;
use Pestle\Core\Theory\Meter;
use Pestle\Core\Theory\Tuning;

/** A recording in the library, named by the hash of its original, with what Pestle heard in it and what the maker says. */
#[ORM\Entity]
#[ORM\Table(name: 'sample')]
#[ORM\HasLifecycleCallbacks]
class Sample implements Awaited
{
    private const MOST_NAMES = 12;
    private ?WaveOverview $wave = null;
    private ?Description $is = null;

    /** @var array<string, mixed>|null as Listening gives them; null until it was listened to */
    #[ORM\Column(type: 'json', nullable: true)]
    private ?array $facts = null;
    /** @var array<string, string|float|int> what the maker set in place of a guess */
    #[ORM\Column(type: 'json')]
    private array $corrections = [];
    /** @var list<string> */
    #[ORM\Column(type: 'json')]
    public array $tags = [];
    #[ORM\Column]
    public bool $favourite = false;
    #[ORM\Column(nullable: true)]
    public ?\DateTimeImmutable $clearedAt = null;

    /** @var list<string>|null names of further files that were the same to the byte */
    #[ORM\Column(type: 'json', nullable: true)]
    public ?array $also = null;

    /** What the library is searched by, as it follows from all else. */
    #[ORM\Column(type: 'text', nullable: true)]
    public ?string $words = null;
    #[ORM\Column(length: 10, nullable: true)]
    public ?string $saidKind = null;
    #[ORM\Column(length: 12, nullable: true)]
    public ?string $saidRole = null;
    #[ORM\Column(length: 12, nullable: true)]
    public ?string $saidKey = null;
    #[ORM\Column(nullable: true)]
    public ?float $saidBpm = null;
    #[ORM\Column(length: 64, nullable: true)]
    public ?string $print = null;

    /** @param string $note repairs and conversions, in words */
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
        #[ORM\Column(type: 'blob')]
        private mixed $overview,
        #[ORM\Column(length: 300)]
        public readonly string $note,
        #[ORM\Column]
        public readonly \DateTimeImmutable $addedAt = new \DateTimeImmutable(),
    ) {
    }

    public function called(): string
    {
        return $this->name;
    }

    /** What was not listened to is used as it is. */
    public function giveUp(string $why, bool $asWished): void
    {
        $this->facts ??= [];
    }

    /** It came once more, under another name. */
    public function alsoCalled(string $name): void
    {
        if ($name !== $this->name && !\in_array($name, $this->also ?? [], true) && \count($this->also ?? []) < self::MOST_NAMES) {
            $this->also = [...$this->also ?? [], $name];
        }
    }

    #[ORM\PreFlush]
    public function settle(): void
    {
        $this->words = mb_strtolower(implode(' ', [$this->name, ...$this->also ?? [], ...$this->tags]));
        [$this->saidKind, $this->saidRole, $this->saidKey, $this->saidBpm, $this->print] = [$this->kind(), $this->role()->value, $this->key(), $this->bpm(), $this->fingerprint()];
    }

    public function show(WaveOverview $wave): void
    {
        $this->wave = $wave;
        $this->overview = $wave->encode();
    }

    /** @param array<string, mixed> $facts as Listening gives them */
    public function hear(array $facts): void
    {
        $this->facts = $facts;
        $this->is = null;
    }

    /** @return array<string, mixed> what was heard, as Listening gave it; empty until then */
    public function heard(): array
    {
        return $this->facts ?? [];
    }

    /** @return array<string, mixed> what the maker says, as it is said to the library */
    public function said(): array
    {
        return ['name' => $this->name, 'tags' => implode(', ', $this->tags), 'favourite' => $this->favourite, ...$this->corrections];
    }

    /** Version of Listening that heard it, 0 for none. */
    public function heardBy(): int
    {
        return null === $this->facts ? 0 : (\is_int($version = $this->facts['version'] ?? 1) ? $version : 1);
    }

    /** The same for samples that sound the same, however they were stored; null until it was listened to. */
    public function fingerprint(): ?string
    {
        $print = $this->facts['sound'] ?? null;

        return \is_string($print) ? $print : null;
    }

    /** @return list<int> pitch classes that stand out in it */
    public function notes(): array
    {
        /** @var list<int> $notes */
        $notes = $this->facts['notes'] ?? [];

        return $notes;
    }

    public function isHeard(): bool
    {
        return null !== $this->facts;
    }

    /** Null takes the correction back. A tempo or first bar said anew takes the place of a grid. */
    public function correct(string $fact, string|float|null $value): void
    {
        $this->is = null;
        unset($this->corrections[$fact]);
        if (\in_array($fact, ['bpm', 'downbeat'], true)) {
            unset($this->corrections['grid']);
        }
        if (null !== $value) {
            $this->corrections[$fact] = $value;
        }
    }

    /** What the maker set in place of a guess; null where the guess holds. */
    public function corrected(string $fact): string|float|int|null
    {
        return $this->corrections[$fact] ?? null;
    }

    public function isCorrected(string $fact): bool
    {
        return isset($this->corrections[$fact]);
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

    /** What it is, by what was heard and what the maker says. */
    public function is(): Description
    {
        return $this->is ??= new Description($this->facts ?? [], $this->corrections, $this->frames, $this->rate);
    }

    /** One-shot, loop or song. */
    public function kind(): string
    {
        return $this->is()->kind();
    }

    public function isMadeOfHits(): bool
    {
        return $this->is()->isMadeOfHits();
    }

    public function isLoop(): bool
    {
        return $this->is()->isLoop();
    }

    public function bpm(): ?float
    {
        return $this->is()->bpm();
    }

    public function meter(): Meter
    {
        return $this->is()->meter();
    }

    public function beatsABar(): int
    {
        return $this->is()->beatsABar();
    }

    public function bars(): ?int
    {
        return $this->is()->bars();
    }

    public function key(): ?string
    {
        return $this->is()->key();
    }

    public function tuning(): Tuning
    {
        return $this->is()->tuning();
    }

    /** MIDI note with its fraction. */
    public function pitch(): ?float
    {
        return $this->is()->pitch();
    }

    /** How sure a guess is, 0 to 1; 1 for what the maker set. */
    public function sure(string $fact): float
    {
        return $this->is()->sure($fact);
    }

    public function role(): Role
    {
        return $this->is()->role();
    }

    /** @return list<array{int, string, float, float}> frame, kind, how sure, level */
    public function hits(): array
    {
        return $this->is()->hits();
    }

    public function grid(): ?BeatGrid
    {
        return $this->is()->grid();
    }

    /** @return array<int, int> frame of each beat; bars begin where its number divides by the beats in one */
    public function lines(): array
    {
        return $this->grid()?->lines($this->frames, $this->rate) ?? [];
    }

    /** @return list<float> */
    public function otherTempi(): array
    {
        /** @var list<float> $others */
        $others = $this->facts['otherBpm'] ?? [];

        return $others;
    }

    public function lufs(): ?float
    {
        $lufs = $this->facts['lufs'] ?? null;

        return is_numeric($lufs) ? (float) $lufs : null;
    }
}
