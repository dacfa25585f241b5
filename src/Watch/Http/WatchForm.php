<?php

declare(strict_types=1);

namespace Ypomna\App\Watch\Http;

use Symfony\Component\HttpFoundation\InputBag;
use Ypomna\App\Watch\InvalidWatch;
use Ypomna\App\Watch\Value\WatchScope;
use Ypomna\App\Watch\Value\WatchWish;
use Ypomna\Core\Address\InvalidAddress;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Recurrence\Condition;
use Ypomna\Core\Recurrence\ConditionKind;
use Ypomna\Core\Recurrence\InvalidCondition;

/** What somebody filled in about a watch, read with its faults named. */
final class WatchForm
{
    private const MOST_DAYS = 3_650.0;

    /**
     * @param InputBag<string> $form
     * @param \DateTimeZone $zone of whoever filled it in
     *
     * @throws InvalidWatch|InvalidCondition with what is wrong
     */
    public static function read(InputBag $form, \DateTimeZone $zone): WatchWish
    {
        $scope = WatchScope::tryFrom($form->getString('scope')) ?? WatchScope::Address;
        $target = trim($form->getString('target'));
        if (WatchScope::References !== $scope) {
            try {
                $target = (string) Url::typed($target)->withoutFragment();
            } catch (InvalidAddress $e) {
                throw new InvalidCondition($e->getMessage());
            }
        }
        $every = null;
        if ('hand' === $form->getString('often')) {
            $number = str_replace(',', '.', trim($form->getString('every')));
            $every = is_numeric($number) ? (float) $number * ('hours' === $form->getString('unit') ? 1 / 24 : 1.0) : 0.0;
            if ($every < 1 / 48 || $every > self::MOST_DAYS) {
                throw new InvalidWatch('watch.say_how_often');
            }
        }
        $hook = trim($form->getString('hook'));
        $hookUrl = '' === $hook ? null : Url::tryParse($hook);
        if ('' !== $hook && (null === $hookUrl || !$hookUrl->isWeb() || \strlen($hook) > 1_000)) {
            throw new InvalidWatch('watch.hook_needs_an_address');
        }

        return new WatchWish(
            $scope, $target, mb_strimwidth(mb_scrub($form->getString('name')), 0, 190, '…'),
            new Condition(
                ConditionKind::tryFrom($form->getString('condition')) ?? ConditionKind::Any,
                trim(mb_scrub($form->getString('text'))),
                trim(mb_scrub($form->getString('column'))),
            ),
            $every, '1' === $form->getString('keeps'), '1' === $form->getString('mails'), null === $hookUrl ? null : (string) $hookUrl,
            self::due($form->getString('due'), $zone), mb_strimwidth(mb_scrub(trim($form->getString('due_note'))), 0, 490, '…'),
        );
    }

    /** @throws InvalidWatch */
    private static function due(string $typed, \DateTimeZone $zone): ?\DateTimeImmutable
    {
        if ('' === trim($typed)) {
            return null;
        }
        $day = \DateTimeImmutable::createFromFormat('!Y-m-d', trim($typed), $zone);
        if (false === $day) {
            throw new InvalidWatch('watch.reminder_is_no_date');
        }

        return $day->setTime(8, 0)->setTimezone(new \DateTimeZone('UTC'));
    }
}
