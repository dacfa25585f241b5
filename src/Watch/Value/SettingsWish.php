<?php

declare(strict_types=1);

namespace Ypomna\App\Watch\Value;

/** What is to hold for all watches, as somebody wants it. */
final readonly class SettingsWish
{
    private const TIME = '/^(?:[01]\d|2[0-3]):[0-5]\d$/D';

    /**
     * @param float $budget checks a day
     * @param string $mailTo '' for no mail
     * @param string $digestAt time of day, as 08:00
     * @param string $quietFrom '' for no quiet hours
     */
    public function __construct(
        public float $budget,
        public string $mailTo,
        public string $digestAt,
        public string $quietFrom,
        public string $quietTo,
        public string $zone,
    ) {
    }

    /**
     * What is wrong with it, by field.
     *
     * @return array<string, string> keys of messages
     */
    public function faults(): array
    {
        $isTime = static fn (string $text): bool => 1 === preg_match(self::TIME, $text);
        $isQuiet = '' === $this->quietFrom ? '' === $this->quietTo : $isTime($this->quietFrom) && $isTime($this->quietTo);

        return array_filter([
            'budget' => $this->budget >= 1 && $this->budget <= WatchSettings::MOST_A_DAY ? '' : 'watch.wrong_budget',
            'mailTo' => '' === $this->mailTo || false !== filter_var($this->mailTo, \FILTER_VALIDATE_EMAIL) ? '' : 'watch.wrong_mail',
            'digestAt' => $isTime($this->digestAt) ? '' : 'watch.wrong_time',
            'quietFrom' => $isQuiet ? '' : 'watch.wrong_quiet',
            'zone' => \in_array($this->zone, \DateTimeZone::listIdentifiers(\DateTimeZone::ALL_WITH_BC), true) ? '' : 'watch.wrong_zone',
        ], static fn (string $fault): bool => '' !== $fault);
    }
}
