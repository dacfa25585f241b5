<?php

declare(strict_types=1);

namespace Ypomna\App\Watch;

use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\Mailer\Exception\TransportExceptionInterface;
use Symfony\Component\Mailer\MailerInterface;
use Symfony\Component\Mime\Address;
use Symfony\Component\Mime\Email;
use Symfony\Contracts\Translation\TranslatorInterface;
use Twig\Environment;
use Ypomna\App\Watch\Value\EventLine;

/** One mail a day with what watches told since the last one; none where there is nothing to tell, and none in quiet hours. */
final readonly class Digest
{
    private const MOST = 200;

    public function __construct(
        private WatchEvents $events,
        private WatchSettingsRepository $settings,
        private MailerInterface $mailer,
        private Environment $twig,
        private TranslatorInterface $translator,
        private ClockInterface $clock,
        private LoggerInterface $logger,
        #[Autowire('%env(MAIL_FROM)%')] private string $from,
    ) {
    }

    /** @return bool whether a mail was sent */
    public function send(): bool
    {
        $now = $this->clock->now();
        $settings = $this->settings->read();
        // What was told before that time of day is in the mail of that day, also where the installation stood still then.
        if ('' === $settings->mailTo || $settings->isQuiet($now)
            || (null !== $settings->digestedAt && $settings->digestedAt >= $settings->lastDigest($now) && $settings->digestedAt <= $now)) {
            return false;
        }
        $events = $this->events->toMail(self::MOST);
        if ([] === $events) {
            $this->settings->digested($now);

            return false;
        }
        $subject = $this->translator->trans('digest.subject', ['n' => \count($events)]);
        $text = $this->twig->render('watch/digest.txt.twig', ['events' => $events]);
        try {
            $this->mailer->send((new Email())->from(new Address($this->from, 'Ypomna'))->to($settings->mailTo)->date($now)
                ->subject($subject)->text($text));
        } catch (TransportExceptionInterface $e) {
            // It is tried again at the next round; nothing counts as told.
            $this->logger->error('The mail about events could not be sent.', ['exception' => $e]);

            return false;
        }
        $this->events->mailed(max(array_map(static fn (EventLine $event): int => $event->id, $events)));
        if (\count($events) < self::MOST) {
            $this->settings->digested($now);
        }

        return true;
    }
}
