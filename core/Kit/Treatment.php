<?php

namespace Pestle\Core\Kit;

use Pestle\Core\Theory\Settable;

/** What is done to a sound when it is struck: its shape, its tone and its movement. */
final readonly class Treatment
{
    public function __construct(
        public Envelope $amp = new Envelope(),
        public Sweep $pitch = new Sweep(),
        public Filter $filter = new Filter(),
        public Lfo $lfo1 = new Lfo(),
        public Lfo $lfo2 = new Lfo(),
        public FreeEnvelope $env = new FreeEnvelope(),
    ) {
    }

    /** @return array{amp: Envelope, pitch: Sweep, filter: Filter, lfo1: Lfo, lfo2: Lfo, env: FreeEnvelope} by their paths */
    public function parts(): array
    {
        return ['amp' => $this->amp, 'pitch' => $this->pitch, 'filter' => $this->filter, 'lfo1' => $this->lfo1, 'lfo2' => $this->lfo2, 'env' => $this->env];
    }

    /** @throws \OutOfBoundsException when nothing of it has that path */
    public function withPart(string $path, Settable $part): self
    {
        if (!isset($this->parts()[$path])) {
            throw new \OutOfBoundsException('No part of a sound\'s treatment: '.$path);
        }
        /** @var array{amp: Envelope, pitch: Sweep, filter: Filter, lfo1: Lfo, lfo2: Lfo, env: FreeEnvelope} $all */
        $all = [...$this->parts(), $path => $part];

        return new self(...$all);
    }

    /** @return list<Lfo> those that act on something */
    public function lfos(LfoTarget $target): array
    {
        return array_values(array_filter([$this->lfo1, $this->lfo2], static fn (Lfo $lfo): bool => $lfo->acts() && $lfo->target === $target));
    }

    /** @return array<string, array<string, mixed>> what differs from a sound left as it is */
    public function toArray(): array
    {
        $plain = [];
        foreach ($this->parts() as $path => $part) {
            foreach ($part::parameters() as $field => $parameter) {
                $value = $part->settings()[$field];
                if ($value !== $parameter->default) {
                    $plain[$path][$field] = $value instanceof \BackedEnum ? $value->value : $value;
                }
            }
        }

        return $plain;
    }
}
