<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Theory\Parameter;

/** A parameter of a beat: where it is, whose it is, and what it is set to. */
final readonly class Setting
{
    /**
     * @param string                $owner whose it is, as a maker reads it: "Kick", "Kick · Compressor"
     * @param \Closure(mixed): Beat $set   the beat with another value
     */
    public function __construct(public string $path, public Parameter $parameter, public mixed $value, public string $owner, private \Closure $set)
    {
    }

    /** @throws InvalidChange when the value does not fit */
    public function set(mixed $value): Beat
    {
        try {
            $read = $this->parameter->read($value);
        } catch (\InvalidArgumentException $e) {
            throw InvalidChange::field($this->path, $e->getMessage());
        }
        try {
            return ($this->set)($read);
        } catch (\InvalidArgumentException $e) {
            throw new InvalidChange($e->getMessage());
        }
    }
}
