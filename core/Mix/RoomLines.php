<?php

namespace Pestle\Core\Mix;

/** What rings in a room: many echoes made of one, and delay lines that feed each other. */
interface RoomLines
{
    /** @return list<int> frames of everything it remembers */
    public function frames(): array;

    /** Numbers it goes on with beside that. */
    public function numbers(): int;

    /** How loud what it brings together is beside the first walls. */
    public function level(): float;

    /**
     * @param list<float>       $left
     * @param list<float>       $right
     * @param list<list<float>> $memory  the oldest first
     * @param list<float>       $numbers
     *
     * @return array{list<float>, list<float>, list<list<float>>, list<float>} both sides, and what it goes on with
     */
    public function ring(array $left, array $right, array $memory, array $numbers): array;
}
