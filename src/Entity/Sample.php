<?php

namespace Pestle\App\Entity;

use Doctrine\ORM\Mapping as ORM;
use Pestle\Core\Audio\WaveOverview;
use Pestle\Core\Kit\Role;
use Pestle\Core\Sample\BeatGrid;
use Pestle\Core\Theory\Key;
use Pestle\Core\Theory\Tuning;

/** A recording in the library, named by the hash of its original, with what Pestle heard in it and what the maker says. */
#[ORM\Entity]
#[ORM\Table(name: 'sample')]
#[ORM\HasLifecycleCallbacks]
class Sample
{
    private const ROLES = ['closed hat' => 'hat', 'open hat' => 'open-hat', 'rim' => 'percussion', 'other' => 'effect'];
    private const SURE_OF_KEY = 0.97;
    private const ATTACK_SECONDS = 0.03;
    private const MOST_NAMES = 12;
    private ?WaveOverview $wave = null;

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
        // JSON has no number that is none, and none without an end.
        array_walk_recursive($facts, static function (mixed &$fact): void {
            $fact = \is_float($fact) && !is_finite($fact) ? 0.0 : $fact;
        });
        $this->facts = $facts;
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

    /** One-shot, loop or song. */
    public function kind(): string
    {
        return (string) ($this->fact('kind') ?? 'one-shot');
    }

    /** Whether it is made of hits, each of a kind, rather than of tones. */
    public function isMadeOfHits(): bool
    {
        return 'hits' === ($this->facts['material'] ?? 'hits');
    }

    public function isLoop(): bool
    {
        return 'one-shot' !== $this->kind() && null !== $this->bpm();
    }

    public function bpm(): ?float
    {
        $grid = $this->grid();

        return null === $grid || ($grid->isEven() && !$this->isCorrected('grid')) ? $this->saidBpm() : $grid->meanBpm($this->seconds());
    }

    /** By hand, or as it was guessed for the whole. */
    private function saidBpm(): ?float
    {
        return 'one-shot' === $this->kind() ? null : $this->number('bpm');
    }

    /** Bars of four beats at its tempo, when its length is a whole number of them. */
    public function bars(): ?int
    {
        return true === $this->grid()?->isEven() ? $this->wholeBars($this->bpm()) : null;
    }

    private function wholeBars(?float $bpm): ?int
    {
        $bars = null === $bpm ? 0.0 : $this->seconds() * $bpm / 240.0;

        return $bars >= 0.9 && abs($bars - round($bars)) < 0.03 ? (int) round($bars) : null;
    }

    /** What is made of hits has none, unless it is very sure or the maker says so. */
    public function key(): ?string
    {
        if ($this->isMadeOfHits() && $this->sure('key') < self::SURE_OF_KEY) {
            return null;
        }

        // Some were told when keys were spelled with sharps alone.
        return null === $this->fact('key') ? null : Key::named((string) $this->fact('key'))->name();
    }

    /** How far its key is off 440 Hz, in cents. */
    public function tuning(): Tuning
    {
        return Tuning::cents(null === $this->key() || $this->isCorrected('key') ? 0.0 : (float) $this->fact('tuning'));
    }

    /** MIDI note with its fraction. */
    public function pitch(): ?float
    {
        return 'one-shot' === $this->kind() && ($this->sure('note') >= 0.5 || $this->isCorrected('note')) ? $this->number('note') : null;
    }

    /** How sure a guess is, 0 to 1; 1 for what the maker set. */
    public function sure(string $fact): float
    {
        $sure = $this->facts[$fact.'Sure'] ?? 0.0;

        return $this->isCorrected($fact) || ('bpm' === $fact && $this->isCorrected('grid')) ? 1.0 : (is_numeric($sure) ? (float) $sure : 0.0);
    }

    public function role(): Role
    {
        return Role::tryFrom((string) $this->fact('role')) ?? ('one-shot' === $this->kind() && [] !== $this->hits() ? self::roleOf($this->hits()[0][1]) : Role::Tonal);
    }

    public static function roleOf(string $kind): Role
    {
        return Role::tryFrom(self::ROLES[$kind] ?? $kind) ?? Role::Effect;
    }

    /** @return list<array{int, string, float, float}> frame, kind, how sure, level */
    public function hits(): array
    {
        /** @var list<array{int, string, float, float}> $hits */
        $hits = $this->facts['hits'] ?? [];

        return $hits;
    }

    /** The maker's own; even, where a tempo was set; or as it was heard. None for one-shots. */
    public function grid(): ?BeatGrid
    {
        if (isset($this->corrections['grid'])) {
            return BeatGrid::decode((string) $this->corrections['grid']);
        }
        $bpm = $this->saidBpm();
        if (null === $bpm) {
            return null;
        }
        $heard = $this->facts['downbeat'] ?? 0;
        $downbeat = (float) ($this->corrections['downbeat'] ?? (\is_int($heard) ? $heard / $this->rate : 0.0));
        if ($this->isCorrected('bpm') || $this->isCorrected('downbeat')) {
            return BeatGrid::even($bpm, $downbeat);
        }
        $isCut = 'loop' === $this->kind() && null !== $this->wholeBars($bpm);
        // Chords seldom fall on every beat: a loop of them that is whole bars long is taken for even. Drums are heard to drift.
        if (true === ($this->facts['steady'] ?? true) || ($isCut && !$this->isMadeOfHits())) {
            // A loop of whole bars was cut at its first bar; what is heard there begins a little later.
            return BeatGrid::even($bpm, $isCut && $downbeat < self::ATTACK_SECONDS ? 0.0 : $downbeat);
        }
        /** @var list<int> $beats */
        $beats = $this->facts['beats'] ?? [];

        return BeatGrid::heard(array_map(fn (int $frame): float => $frame / $this->rate, $beats), $downbeat, $bpm);
    }

    /** @return array<int, int> frame of each beat; those whose number divides by four begin bars */
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

    /** The middle of "86 BPM · 4 bars". */
    public function tempoLabel(): ?string
    {
        return null === $this->bpm() ? null : \sprintf('%s BPM', round($this->bpm(), 1));
    }

    private function number(string $fact): ?float
    {
        $value = $this->fact($fact);

        return null === $value ? null : (float) $value;
    }

    private function fact(string $name): string|float|int|null
    {
        $value = $this->corrections[$name] ?? $this->facts[$name] ?? null;

        return \is_scalar($value) && !\is_bool($value) ? $value : null;
    }
}
