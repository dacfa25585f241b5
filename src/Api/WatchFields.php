<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\Watch\Entity\Watch;
use Ypomna\App\Watch\HookCaller;
use Ypomna\App\Watch\InvalidWatch;
use Ypomna\App\Watch\Value\SettingsWish;
use Ypomna\App\Watch\Value\WatchScope;
use Ypomna\App\Watch\Value\WatchSettings;
use Ypomna\App\Watch\Value\WatchWish;
use Ypomna\Core\Address\InvalidAddress;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Recurrence\Condition;
use Ypomna\Core\Recurrence\ConditionKind;
use Ypomna\Core\Recurrence\InvalidCondition;

/** Reads how a watch is wanted. */
final readonly class WatchFields
{
    public const LONGEST_NAME = 190;
    public const LONGEST_TEXT = 500;
    public const LONGEST_ADDRESS = 1_000;
    /** Checks lie no nearer to each other, and no farther, in days. */
    public const EVERY = [1 / 48, 3_650.0];

    public function __construct(private HookCaller $hooks, private TranslatorInterface $translator)
    {
    }

    /**
     * @param Watch|null $watch the one that is changed; null for a new one
     *
     * @throws InvalidFields
     */
    public function wish(Fields $fields, ?Watch $watch = null): WatchWish
    {
        $scope = $watch->scope ?? $fields->one('scope', WatchScope::class) ?? WatchScope::Address;
        $wish = new WatchWish(
            $scope, $watch->target ?? $this->target($fields, $scope), $fields->text('name', self::LONGEST_NAME) ?? '',
            $this->condition($fields, $watch), $fields->has('everyDays') ? $this->every($fields) : $watch?->everyDays,
            $fields->bool('keeps') ?? $watch->keeps ?? true, $fields->bool('mails') ?? $watch->mails ?? true,
            $fields->has('hookUrl') ? $this->hook($fields, $watch) : $watch?->hookUrl,
            $fields->has('dueAt') ? $fields->moment('dueAt') : $watch?->dueAt,
            $fields->text('dueNote', self::LONGEST_TEXT) ?? ($fields->has('dueNote') ? '' : $watch->dueNote ?? ''),
        );
        $fields->done();

        return $wish;
    }

    /**
     * What is to hold for all watches; what is removed is as it was at the beginning.
     *
     * @throws InvalidFields
     */
    public function settings(Fields $fields, WatchSettings $now): SettingsWish
    {
        $text = static fn (string $name, string $before, string $first): string => $fields->has($name)
            ? $fields->text($name, self::LONGEST_NAME) ?? $first : $before;
        $wish = new SettingsWish(
            $fields->has('budget') ? $fields->decimal('budget') ?? WatchSettings::BUDGET : $now->budget, $text('mailTo', $now->mailTo, ''),
            $text('digestAt', $now->digestAt, WatchSettings::DIGEST_AT), $text('quietFrom', $now->quietFrom, ''),
            $text('quietTo', $now->quietTo, ''), $text('zone', $now->zone, 'UTC'),
        );
        foreach ($fields->isWrong() ? [] : $wish->faults() as $name => $fault) {
            $fields->wrong($name, $this->translator->trans($fault));
        }
        $fields->done();

        return $wish;
    }

    private function target(Fields $fields, WatchScope $scope): string
    {
        $typed = $fields->text('target', 65_535) ?? '';
        if (WatchScope::References === $scope) {
            return $typed;
        }
        try {
            $url = Url::parse($typed)->withoutFragment();
            if ($url->isWeb()) {
                return (string) $url;
            }
        } catch (InvalidAddress) {
        }
        $fields->wrong('target', 'An address of the web is wanted.');

        return '';
    }

    private function condition(Fields $fields, ?Watch $watch): Condition
    {
        $before = $watch?->condition() ?? new Condition();
        $given = $fields->inner('condition');
        if (null === $given) {
            return $fields->has('condition') ? new Condition() : $before;
        }
        $kind = $given->one('kind', ConditionKind::class) ?? $before->kind;
        [$text, $column] = [$given->text('text', self::LONGEST_TEXT), $given->text('column', self::LONGEST_TEXT)];
        $fields->take($given);
        try {
            return new Condition($kind, trim($text ?? $before->text), trim($column ?? $before->column));
        } catch (InvalidCondition $e) {
            $fields->wrong('condition', $e->getMessage());

            return $before;
        }
    }

    private function every(Fields $fields): ?float
    {
        $days = $fields->decimal('everyDays');
        if (null !== $days && ($days < self::EVERY[0] || $days > self::EVERY[1])) {
            $fields->wrong('everyDays', \sprintf('Between half an hour and %d days.', self::EVERY[1]));
        }

        return $days;
    }

    private function hook(Fields $fields, ?Watch $watch): ?string
    {
        $typed = $fields->text('hookUrl', self::LONGEST_ADDRESS);
        $url = null === $typed ? null : Url::tryParse($typed);
        if (null !== $typed && (null === $url || !$url->isWeb())) {
            $fields->wrong('hookUrl', 'An address of the web is wanted.');

            return null;
        }
        try {
            if (null !== $url && (string) $url !== $watch?->hookUrl) {
                $this->hooks->judge((string) $url);
            }
        } catch (InvalidWatch $e) {
            $fields->wrong('hookUrl', $e->trans($this->translator));
        }

        return null === $url ? null : (string) $url;
    }
}
