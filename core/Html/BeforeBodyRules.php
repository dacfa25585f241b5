<?php

declare(strict_types=1);

namespace Ypomna\Core\Html;

/**
 * What stands before the body (HTML Living Standard, sections 13.2.6.4.1 to 13.2.6.4.6).
 *
 * @internal
 */
final class BeforeBodyRules
{
    /** Documents that are laid out as of old, by their public identifier (section 13.2.6.4.1). */
    private const OLD = '~^(?:-//(?:ietf//dtd html|w3c//dtd (?:html (?:3[ .]|4\.0 (?:transitional|frameset)//|experimental )|w3 html//)|'
        .'w3o//dtd w3 html|netscape comm\. corp\.//'
        .'|microsoft//dtd internet explorer|webtechs//dtd mozilla html|spyglass//|sq//|softquad(?: software)?//|sun microsystems'
        .' corp\.//|o\'reilly and associates//'
        .'|advasoft ltd//|as//|metrius//)|\+//silmaril//|-/w3c/dtd html 4\.0 transitional/en$|html$)~D';
    private const OLD_WITHOUT_SYSTEM = '~^-//w3c//dtd html 4\.01 (?:transitional|frameset)//~';
    private const OLD_SYSTEM = 'http://www.ibm.com/data/dtd/v11/ibmxhtml1-transitional.dtd';
    private const IDENTIFIERS = '~^(?:|public[\t\n\f ]*(?|"([^"]*)"|\'([^\']*)\')[\t\n\f ]*(?:(?|"([^"]*)"|\'([^\']*)\').*)?|'
        .'system[\t\n\f ]*(?|"([^"]*)"|\'([^\']*)\').*)$~Ds';

    public static function initial(Construction $at, Token $token): void
    {
        if (TokenKind::Doctype === $token->kind) {
            $at->quirks = self::isQuirky($token->name, $token->text);
            $at->mode = Mode::BeforeHtml;

            return;
        }
        if (TokenKind::Text === $token->kind) {
            [, $token] = Construction::parted($token);
        }
        if (null !== $token) {
            $at->quirks = true;
            $at->again(Mode::BeforeHtml, $token);
        }
    }

    public static function beforeHtml(Construction $at, Token $token): void
    {
        if (TokenKind::Text === $token->kind) {
            [, $token] = Construction::parted($token);
        }
        if (null === $token || TokenKind::Doctype === $token->kind
            || (TokenKind::End === $token->kind && !isset(['head' => 1, 'body' => 1, 'html' => 1, 'br' => 1][$token->name]))) {
            return;
        }
        if (TokenKind::Start === $token->kind && 'html' === $token->name) {
            $at->planter->open($token);
            $at->mode = Mode::BeforeHead;

            return;
        }
        $at->planter->open(new Token(TokenKind::Start, 'html'));
        $at->again(Mode::BeforeHead, $token);
    }

    public static function beforeHead(Construction $at, Token $token): void
    {
        if (TokenKind::Text === $token->kind) {
            [, $token] = Construction::parted($token);
        }
        if (null === $token || TokenKind::Doctype === $token->kind
            || (TokenKind::End === $token->kind && !isset(['head' => 1, 'body' => 1, 'html' => 1, 'br' => 1][$token->name]))) {
            return;
        }
        if (TokenKind::Start === $token->kind && 'html' === $token->name) {
            $at->moreOfHtml($token);

            return;
        }
        $isHead = TokenKind::Start === $token->kind && 'head' === $token->name;
        $at->head = $at->planter->open($isHead ? $token : new Token(TokenKind::Start, 'head'));
        $at->mode = Mode::InHead;
        if (!$isHead) {
            $at->process($token);
        }
    }

    public static function inHead(Construction $at, Token $token): void
    {
        if (TokenKind::Doctype === $token->kind) {
            return;
        }
        $token = $at->behindSpace($token);
        if (null === $token) {
            return;
        }
        if (TokenKind::Start === $token->kind) {
            if ('html' === $token->name) {
                $at->moreOfHtml($token);

                return;
            }
            if (isset(Kinds::IN_HEAD[$token->name]) || 'noscript' === $token->name) {
                $at->headElement($token);

                return;
            }
            if ('head' === $token->name) {
                return;
            }
        }
        if (TokenKind::End === $token->kind) {
            if ('template' === $token->name) {
                $at->endTemplate();

                return;
            }
            if (!isset(['head' => 1, 'body' => 1, 'html' => 1, 'br' => 1][$token->name])) {
                return;
            }
        }
        $at->stack->pop();
        $at->mode = Mode::AfterHead;
        if (TokenKind::End !== $token->kind || 'head' !== $token->name) {
            $at->process($token);
        }
    }

    public static function afterHead(Construction $at, Token $token): void
    {
        if (TokenKind::Doctype === $token->kind) {
            return;
        }
        $token = $at->behindSpace($token);
        if (null === $token) {
            return;
        }
        if (TokenKind::Start === $token->kind) {
            if ('html' === $token->name) {
                $at->moreOfHtml($token);

                return;
            }
            if ('body' === $token->name || 'frameset' === $token->name) {
                $at->planter->open($token);
                $at->framesetOk = $at->framesetOk && 'body' !== $token->name;
                $at->mode = 'body' === $token->name ? Mode::InBody : Mode::InFrameset;

                return;
            }
            if (isset(Kinds::IN_HEAD[$token->name]) && null !== $at->head) {
                $head = $at->head;
                $at->stack->push($head);
                $at->headElement($token);
                $at->stack->remove($head);

                return;
            }
            if ('head' === $token->name) {
                return;
            }
        }
        if (TokenKind::End === $token->kind && !isset(['body' => 1, 'html' => 1, 'br' => 1][$token->name])) {
            if ('template' === $token->name) {
                $at->endTemplate();
            }

            return;
        }
        $at->planter->open(new Token(TokenKind::Start, 'body'));
        $at->again(Mode::InBody, $token);
    }

    /** @param string $rest what follows the name, in lower case */
    private static function isQuirky(string $name, string $rest): bool
    {
        if ('html' !== $name || 1 !== preg_match(self::IDENTIFIERS, $rest, $m, \PREG_UNMATCHED_AS_NULL)) {
            return true;
        }
        $public = $m[1] ?? '';
        $system = $m[2] ?? $m[3] ?? null;

        return 1 === preg_match(self::OLD, $public) || self::OLD_SYSTEM === $system
            || (null === $system && 1 === preg_match(self::OLD_WITHOUT_SYSTEM, $public));
    }
}
